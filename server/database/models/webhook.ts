import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { WebhookKind } from '../../../core/notices'

/** An address that is told what happens, by signed messages. */
export class WebhookModel extends Model<InferAttributes<WebhookModel>, InferCreationAttributes<WebhookModel>> {
  declare id: CreationOptional<number>
  declare url: string
  declare secretSealed: Buffer
  declare kinds: WebhookKind[]
  declare active: CreationOptional<boolean>
  declare madeBy: string
  declare madeAt: Date
  declare failingSince: CreationOptional<Date | null>
  declare problem: CreationOptional<string>
  /** The ledger's revision up to which it was told; entries come in the order of their revisions. */
  declare ledgerRevision: number
  declare version: CreationOptional<number>
}

export function defineWebhook(sequelize: Sequelize): typeof WebhookModel {
  return WebhookModel.init(
    {
      id: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true, autoIncrement: true },
      url: { type: DataTypes.STRING(2000), allowNull: false },
      secretSealed: { type: DataTypes.BLOB, allowNull: false },
      kinds: { type: DataTypes.JSON, allowNull: false },
      active: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: true },
      madeBy: { type: DataTypes.STRING(160), allowNull: false },
      madeAt: { type: DataTypes.DATE(3), allowNull: false },
      failingSince: DataTypes.DATE(3),
      problem: { type: DataTypes.STRING(500), allowNull: false, defaultValue: '' },
      ledgerRevision: { type: DataTypes.BIGINT.UNSIGNED, allowNull: false },
      version: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 1 },
    },
    { sequelize, tableName: 'webhook', modelName: 'Webhook' },
  )
}
