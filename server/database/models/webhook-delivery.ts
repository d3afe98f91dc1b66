import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { WebhookKind } from '../../../core/notices'
import { EXACT_TEXT } from '../columns'

/** One message to one webhook. */
export class WebhookDeliveryModel extends Model<
  InferAttributes<WebhookDeliveryModel>,
  InferCreationAttributes<WebhookDeliveryModel>
> {
  declare id: CreationOptional<number>
  declare webhookId: number
  declare messageId: string
  declare kind: WebhookKind | 'trial'
  declare payload: string
  declare state: CreationOptional<'waiting' | 'delivered' | 'failed'>
  declare madeAt: Date
  declare dueAt: Date
  declare tries: CreationOptional<number>
  declare triedAt: CreationOptional<Date | null>
  declare status: CreationOptional<number | null>
  declare milliseconds: CreationOptional<number | null>
  declare problem: CreationOptional<string>
}

export function defineWebhookDelivery(sequelize: Sequelize): typeof WebhookDeliveryModel {
  return WebhookDeliveryModel.init(
    {
      id: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true, autoIncrement: true },
      webhookId: { type: DataTypes.BIGINT.UNSIGNED, allowNull: false },
      messageId: { type: EXACT_TEXT(190), allowNull: false },
      kind: { type: EXACT_TEXT(40), allowNull: false },
      payload: { type: DataTypes.TEXT('medium'), allowNull: false },
      state: { type: DataTypes.ENUM('waiting', 'delivered', 'failed'), allowNull: false, defaultValue: 'waiting' },
      madeAt: { type: DataTypes.DATE(3), allowNull: false },
      dueAt: { type: DataTypes.DATE(3), allowNull: false },
      tries: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 0 },
      triedAt: DataTypes.DATE(3),
      status: DataTypes.SMALLINT.UNSIGNED,
      milliseconds: DataTypes.INTEGER.UNSIGNED,
      problem: { type: DataTypes.STRING(500), allowNull: false, defaultValue: '' },
    },
    { sequelize, tableName: 'webhook_delivery', modelName: 'WebhookDelivery' },
  )
}
