import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import { JOB_COLUMNS } from './job-columns'

/** Checks that somebody asked for. */
export class CheckRunModel extends Model<InferAttributes<CheckRunModel>, InferCreationAttributes<CheckRunModel>> {
  declare id: CreationOptional<number>
  declare total: number
  declare state: CreationOptional<'running' | 'done' | 'cancelled'>
  declare askedBy: string
  declare askedAt: Date
  declare endedAt: CreationOptional<Date | null>
  declare version: CreationOptional<number>
  declare leasedUntil: CreationOptional<Date | null>
  declare resumeState: CreationOptional<string | null>
  declare resumeProblem: CreationOptional<string | null>
  declare resumeEnded: CreationOptional<boolean>
}

export function defineCheckRun(sequelize: Sequelize): typeof CheckRunModel {
  return CheckRunModel.init(
    {
      id: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true, autoIncrement: true },
      total: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false },
      state: { type: DataTypes.ENUM('running', 'done', 'cancelled'), allowNull: false, defaultValue: 'running' },
      askedBy: { type: DataTypes.STRING(160), allowNull: false },
      askedAt: { type: DataTypes.DATE(3), allowNull: false },
      endedAt: DataTypes.DATE(3),
      ...JOB_COLUMNS,
    },
    { sequelize, tableName: 'check_run', modelName: 'CheckRun' },
  )
}
