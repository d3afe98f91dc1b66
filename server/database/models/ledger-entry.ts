import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { LedgerEntry } from '../../../core/schemas'

export type State = Record<string, unknown>

export class LedgerEntryModel extends Model<
  InferAttributes<LedgerEntryModel>,
  InferCreationAttributes<LedgerEntryModel>
> {
  declare id: CreationOptional<number>
  declare revision: number
  declare at: Date
  /** From when on it is answered so, at every gateway at once; at once where there is none. */
  declare liveAt: CreationOptional<Date | null>
  declare memberId: number | null
  declare actor: string
  declare action: string
  declare subjectKind: LedgerEntry['subject']['kind']
  declare subjectId: number
  declare subjectLabel: string
  declare reason: string
  declare beforeState: State | null
  declare afterState: State | null
  declare undoesId: CreationOptional<number | null>
  declare undoneById: CreationOptional<number | null>
  /** The entry this one is a part of: told with it, undone with it. */
  declare partOf: CreationOptional<number | null>
}

export function defineLedgerEntry(sequelize: Sequelize): typeof LedgerEntryModel {
  return LedgerEntryModel.init(
    {
      id: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true, autoIncrement: true },
      // Given last, under the lock of all changes; no entry is seen without one.
      revision: { type: DataTypes.BIGINT.UNSIGNED, allowNull: true },
      at: { type: DataTypes.DATE(3), allowNull: false },
      liveAt: DataTypes.DATE(3),
      memberId: DataTypes.BIGINT.UNSIGNED,
      actor: { type: DataTypes.STRING(160), allowNull: false },
      action: { type: DataTypes.STRING(40), allowNull: false },
      subjectKind: {
        type: DataTypes.ENUM('link', 'domain', 'member', 'token', 'organisation', 'case', 'rule', 'links'),
        allowNull: false,
      },
      subjectId: { type: DataTypes.BIGINT.UNSIGNED, allowNull: false },
      subjectLabel: { type: DataTypes.STRING(500), allowNull: false },
      reason: { type: DataTypes.STRING(500), allowNull: false },
      beforeState: DataTypes.JSON,
      afterState: DataTypes.JSON,
      undoesId: DataTypes.BIGINT.UNSIGNED,
      undoneById: DataTypes.BIGINT.UNSIGNED,
      partOf: DataTypes.BIGINT.UNSIGNED,
    },
    { sequelize, tableName: 'ledger_entry', modelName: 'LedgerEntry' },
  )
}
