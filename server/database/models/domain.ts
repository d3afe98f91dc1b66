import { DataTypes, Model, type CreationOptional, type InferAttributes, type InferCreationAttributes, type Sequelize } from 'sequelize'
import type { Domain } from '../../../core/schemas'
import type { RedirectStatus } from '../../../core/table'
import { EXACT_TEXT } from './link'

export class DomainModel extends Model<InferAttributes<DomainModel>, InferCreationAttributes<DomainModel>> {
  declare id: CreationOptional<number>
  declare host: string
  declare standing: CreationOptional<Domain['standing']>
  declare capitalsMatter: CreationOptional<boolean>
  declare trailingSlashMatters: CreationOptional<boolean>
  declare defaultStatus: CreationOptional<RedirectStatus>
  declare permanenceSeconds: CreationOptional<number>
  declare rootDestination: CreationOptional<string | null>
  declare notFoundDestination: CreationOptional<string | null>
  declare endedDestination: CreationOptional<string | null>
  declare appSchemes: CreationOptional<string[]>
  declare version: CreationOptional<number>
  declare createdAt: Date
  declare updatedAt: Date
}

export function defineDomain(sequelize: Sequelize): typeof DomainModel {
  return DomainModel.init(
    {
      id: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true, autoIncrement: true },
      host: { type: EXACT_TEXT(253), allowNull: false },
      standing: { type: DataTypes.ENUM('not-proved', 'proved', 'spreading', 'open', 'drifted'), allowNull: false, defaultValue: 'not-proved' },
      capitalsMatter: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: true },
      trailingSlashMatters: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
      defaultStatus: { type: DataTypes.SMALLINT.UNSIGNED, allowNull: false, defaultValue: 302 },
      permanenceSeconds: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 86_400 },
      rootDestination: DataTypes.TEXT,
      notFoundDestination: DataTypes.TEXT,
      endedDestination: DataTypes.TEXT,
      appSchemes: { type: DataTypes.JSON, allowNull: false, defaultValue: [] },
      version: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 1 },
      createdAt: { type: DataTypes.DATE(3), allowNull: false },
      updatedAt: { type: DataTypes.DATE(3), allowNull: false },
    },
    { sequelize, tableName: 'domain', modelName: 'Domain' },
  )
}
