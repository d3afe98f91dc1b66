import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import { EXACT_TEXT } from '../columns'

export const MAIL_KINDS = ['at-once', 'digest', 'change', 'trial', 'report', 'ask'] as const

/** A mail that waits to be sent, or was. */
export class MailModel extends Model<InferAttributes<MailModel>, InferCreationAttributes<MailModel>> {
  declare id: CreationOptional<number>
  /** What it is about: nobody gets two of one mark. */
  declare mark: string
  declare memberId: number | null
  declare recipient: string
  declare recipientName: string
  declare kind: (typeof MAIL_KINDS)[number]
  declare subject: string
  declare text: string
  declare html: string
  declare noticeId: CreationOptional<number | null>
  declare state: CreationOptional<'waiting' | 'sent' | 'dropped' | 'failed'>
  declare madeAt: Date
  declare dueAt: Date
  declare tries: CreationOptional<number>
  declare sentAt: CreationOptional<Date | null>
  declare problem: CreationOptional<string>
}

export function defineMail(sequelize: Sequelize): typeof MailModel {
  return MailModel.init(
    {
      id: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true, autoIncrement: true },
      mark: { type: EXACT_TEXT(190), allowNull: false },
      memberId: DataTypes.BIGINT.UNSIGNED,
      recipient: { type: EXACT_TEXT(254), allowNull: false },
      recipientName: { type: DataTypes.STRING(120), allowNull: false },
      kind: { type: DataTypes.ENUM(...MAIL_KINDS), allowNull: false },
      subject: { type: DataTypes.STRING(300), allowNull: false },
      text: { type: DataTypes.TEXT('medium'), allowNull: false },
      html: { type: DataTypes.TEXT('medium'), allowNull: false },
      noticeId: DataTypes.BIGINT.UNSIGNED,
      state: {
        type: DataTypes.ENUM('waiting', 'sent', 'dropped', 'failed'),
        allowNull: false,
        defaultValue: 'waiting',
      },
      madeAt: { type: DataTypes.DATE(3), allowNull: false },
      dueAt: { type: DataTypes.DATE(3), allowNull: false },
      tries: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 0 },
      sentAt: DataTypes.DATE(3),
      problem: { type: DataTypes.STRING(500), allowNull: false, defaultValue: '' },
    },
    { sequelize, tableName: 'mail', modelName: 'Mail' },
  )
}
