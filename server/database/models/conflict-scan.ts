import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { ConflictScan } from '../../../core/schemas'
import { JOB_COLUMNS } from './job-columns'

export class ConflictScanModel extends Model<
  InferAttributes<ConflictScanModel>,
  InferCreationAttributes<ConflictScanModel>
> {
  declare id: CreationOptional<number>
  declare state: CreationOptional<ConflictScan['state']>
  declare phase: CreationOptional<string>
  declare done: CreationOptional<number>
  declare total: CreationOptional<number>
  declare found: CreationOptional<Record<string, number>>
  declare askedBy: string
  declare askedAt: Date
  declare beganAt: CreationOptional<Date | null>
  declare endedAt: CreationOptional<Date | null>
  declare problem: CreationOptional<string | null>
  declare version: CreationOptional<number>
  declare leasedUntil: CreationOptional<Date | null>
  declare resumeState: CreationOptional<string | null>
  declare resumeProblem: CreationOptional<string | null>
  declare resumeEnded: CreationOptional<boolean>
}

export function defineConflictScan(sequelize: Sequelize): typeof ConflictScanModel {
  return ConflictScanModel.init(
    {
      id: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true, autoIncrement: true },
      state: {
        type: DataTypes.ENUM('queued', 'running', 'done', 'cancelled', 'failed'),
        allowNull: false,
        defaultValue: 'queued',
      },
      phase: { type: DataTypes.STRING(20), allowNull: false, defaultValue: '' },
      done: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 0 },
      total: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 0 },
      found: { type: DataTypes.JSON, allowNull: false, defaultValue: {} },
      askedBy: { type: DataTypes.STRING(160), allowNull: false },
      askedAt: { type: DataTypes.DATE(3), allowNull: false },
      beganAt: DataTypes.DATE(3),
      endedAt: DataTypes.DATE(3),
      problem: DataTypes.STRING(600),
      ...JOB_COLUMNS,
    },
    { sequelize, tableName: 'conflict_scan', modelName: 'ConflictScan' },
  )
}
