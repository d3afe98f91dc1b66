import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { Conflict } from '../../../core/conflicts'
import type { Case } from '../../../core/schemas'
import { EXACT_TEXT } from '../columns'

export class DocketCaseModel extends Model<InferAttributes<DocketCaseModel>, InferCreationAttributes<DocketCaseModel>> {
  declare id: CreationOptional<number>
  declare lane: Case['lane']
  declare kind: string
  declare caseKey: string
  /** What it comes of where others may come of it too; those are shown as one. */
  declare cause: CreationOptional<string | null>
  declare domainId: number | null
  declare linkId: number | null
  declare subject: string
  declare severity: Case['severity']
  declare headline: string
  declare sentence: string
  declare evidence: Case['evidence']
  declare impact: CreationOptional<string | number>
  declare share: CreationOptional<string | number>
  declare harmAt: CreationOptional<Date | null>
  declare irrevocable: CreationOptional<boolean>
  declare remark: CreationOptional<boolean>
  declare state: CreationOptional<Case['state']>
  declare setAsideUntil: CreationOptional<Date | null>
  declare reason: CreationOptional<string>
  declare settledBy: CreationOptional<string | null>
  declare print: CreationOptional<string | null>
  declare keptPrint: CreationOptional<string | null>
  declare conflict: CreationOptional<Conflict | null>
  declare openedAt: Date
  declare reopenedAt: CreationOptional<Date | null>
  declare settledAt: CreationOptional<Date | null>
  declare seenAt: Date
  /** The notice its present opening belongs to. */
  declare noticeId: CreationOptional<number | null>
  declare noticedAt: CreationOptional<Date | null>
  declare settlingTold: CreationOptional<boolean>
  declare version: CreationOptional<number>
}

export function defineDocketCase(sequelize: Sequelize): typeof DocketCaseModel {
  return DocketCaseModel.init(
    {
      id: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true, autoIncrement: true },
      lane: { type: DataTypes.ENUM('targets', 'misses', 'conflicts', 'domains', 'dates'), allowNull: false },
      kind: { type: EXACT_TEXT(40), allowNull: false },
      caseKey: { type: EXACT_TEXT(64), allowNull: false },
      cause: EXACT_TEXT(300),
      domainId: DataTypes.BIGINT.UNSIGNED,
      linkId: DataTypes.BIGINT.UNSIGNED,
      subject: { type: DataTypes.STRING(500), allowNull: false },
      severity: { type: DataTypes.ENUM('broken', 'doubtful'), allowNull: false },
      headline: { type: DataTypes.STRING(300), allowNull: false },
      sentence: { type: DataTypes.TEXT, allowNull: false },
      evidence: { type: DataTypes.JSON, allowNull: false },
      impact: { type: DataTypes.DECIMAL(12, 2), allowNull: false, defaultValue: 0 },
      share: { type: DataTypes.DECIMAL(6, 5), allowNull: false, defaultValue: 1 },
      harmAt: DataTypes.DATE(3),
      irrevocable: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
      remark: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
      state: { type: DataTypes.ENUM('open', 'set-aside', 'settled'), allowNull: false, defaultValue: 'open' },
      setAsideUntil: DataTypes.DATE(3),
      reason: { type: DataTypes.STRING(500), allowNull: false, defaultValue: '' },
      settledBy: DataTypes.STRING(160),
      print: DataTypes.CHAR(64),
      keptPrint: DataTypes.CHAR(64),
      conflict: DataTypes.JSON,
      openedAt: { type: DataTypes.DATE(3), allowNull: false },
      reopenedAt: DataTypes.DATE(3),
      settledAt: DataTypes.DATE(3),
      seenAt: { type: DataTypes.DATE(3), allowNull: false },
      noticeId: DataTypes.BIGINT.UNSIGNED,
      noticedAt: DataTypes.DATE(3),
      settlingTold: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: true },
      version: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 1 },
    },
    { sequelize, tableName: 'docket_case', modelName: 'DocketCase' },
  )
}
