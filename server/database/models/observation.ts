import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { Observation } from '../../../core/dns'
import { EXACT_TEXT } from '../columns'

export class ObservationModel extends Model<
  InferAttributes<ObservationModel>,
  InferCreationAttributes<ObservationModel>
> {
  declare id: CreationOptional<number>
  declare domainId: number
  declare latest: CreationOptional<boolean>
  declare role: Observation['role']
  declare server: string
  declare name: string
  declare type: string
  declare status: Observation['status']
  declare data: string[]
  declare ttl: number | null
  declare ttlAt: Date
  declare firstAt: Date
  declare lastAt: Date
  /** It had answered the question before this run of answers. */
  declare hadAnswered: CreationOptional<boolean>
}

export function defineObservation(sequelize: Sequelize): typeof ObservationModel {
  return ObservationModel.init(
    {
      id: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true, autoIncrement: true },
      domainId: { type: DataTypes.BIGINT.UNSIGNED, allowNull: false },
      latest: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: true },
      role: { type: DataTypes.ENUM('authority', 'resolver'), allowNull: false },
      server: { type: EXACT_TEXT(255), allowNull: false },
      name: { type: EXACT_TEXT(1100), allowNull: false },
      type: { type: EXACT_TEXT(20), allowNull: false },
      status: { type: DataTypes.ENUM('answered', 'none', 'lame', 'refused', 'failed', 'silent'), allowNull: false },
      data: { type: DataTypes.JSON, allowNull: false },
      ttl: DataTypes.INTEGER.UNSIGNED,
      ttlAt: { type: DataTypes.DATE(3), allowNull: false },
      firstAt: { type: DataTypes.DATE(3), allowNull: false },
      lastAt: { type: DataTypes.DATE(3), allowNull: false },
      hadAnswered: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
    },
    { sequelize, tableName: 'observation', modelName: 'Observation' },
  )
}
