import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { ReplayRequest } from '../../../core/schemas'
import type { Replayed } from '../../../core/table'
import { JOB_COLUMNS } from './job-columns'

/** Past requests put to two tables, under way or done. */
export class ReplayModel extends Model<InferAttributes<ReplayModel>, InferCreationAttributes<ReplayModel>> {
  declare id: CreationOptional<number>
  declare state: CreationOptional<'running' | 'done' | 'cancelled' | 'failed'>
  declare memberId: number | null
  declare proposalId: number | null
  declare request: ReplayRequest
  /** Requests to put, and put so far. */
  declare total: CreationOptional<number>
  declare done: CreationOptional<number>
  declare result: CreationOptional<Replayed | null>
  declare problem: CreationOptional<string>
  declare askedAt: Date
  declare endedAt: CreationOptional<Date | null>
  declare version: CreationOptional<number>
  declare leasedUntil: CreationOptional<Date | null>
  declare resumeState: CreationOptional<string | null>
  declare resumeProblem: CreationOptional<string | null>
  declare resumeEnded: CreationOptional<boolean>
}

export function defineReplay(sequelize: Sequelize): typeof ReplayModel {
  return ReplayModel.init(
    {
      id: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true, autoIncrement: true },
      state: {
        type: DataTypes.ENUM('running', 'done', 'cancelled', 'failed'),
        allowNull: false,
        defaultValue: 'running',
      },
      memberId: DataTypes.BIGINT.UNSIGNED,
      proposalId: DataTypes.BIGINT.UNSIGNED,
      request: { type: DataTypes.JSON, allowNull: false },
      total: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 0 },
      done: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 0 },
      result: DataTypes.JSON,
      problem: { type: DataTypes.STRING(600), allowNull: false, defaultValue: '' },
      askedAt: { type: DataTypes.DATE(3), allowNull: false },
      endedAt: DataTypes.DATE(3),
      ...JOB_COLUMNS,
    },
    { sequelize, tableName: 'replay', modelName: 'Replay' },
  )
}
