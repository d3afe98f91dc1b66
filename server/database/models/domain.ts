import { randomBytes } from 'node:crypto'
import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { Domain } from '../../../core/schemas'
import type { SlugRules } from '../../../core/slugs'
import type { RedirectStatus } from '../../../core/table'
import { EXACT_TEXT } from './link'

export class DomainModel extends Model<InferAttributes<DomainModel>, InferCreationAttributes<DomainModel>> {
  declare id: CreationOptional<number>
  declare host: string
  declare standing: CreationOptional<Domain['standing']>
  declare capitalsMatter: CreationOptional<boolean>
  declare trailingSlashMatters: CreationOptional<boolean>
  declare slugRules: CreationOptional<Partial<SlugRules>>
  declare mendPunctuation: CreationOptional<boolean>
  declare mendCapitals: CreationOptional<boolean>
  declare mendLookAlikes: CreationOptional<boolean>
  declare defaultStatus: CreationOptional<RedirectStatus>
  declare permanenceSeconds: CreationOptional<number>
  declare rootDestination: CreationOptional<string | null>
  declare notFoundDestination: CreationOptional<string | null>
  declare endedDestination: CreationOptional<string | null>
  declare appSchemes: CreationOptional<string[]>
  declare proofToken: CreationOptional<string>
  declare registrar: CreationOptional<string>
  declare expiresOn: CreationOptional<string | null>
  declare firstYearPrice: CreationOptional<string | null>
  declare yearlyPrice: CreationOptional<string | null>
  declare currency: CreationOptional<string>
  declare privacy: CreationOptional<Domain['privacy']>
  declare version: CreationOptional<number>
  declare createdAt: Date
  declare updatedAt: Date
}

export function defineDomain(sequelize: Sequelize): typeof DomainModel {
  return DomainModel.init(
    {
      id: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true, autoIncrement: true },
      host: { type: EXACT_TEXT(253), allowNull: false },
      standing: {
        type: DataTypes.ENUM('not-proved', 'proved', 'spreading', 'open', 'drifted'),
        allowNull: false,
        defaultValue: 'not-proved',
      },
      capitalsMatter: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: true },
      trailingSlashMatters: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
      slugRules: { type: DataTypes.JSON, allowNull: false, defaultValue: {} },
      mendPunctuation: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
      mendCapitals: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
      mendLookAlikes: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
      defaultStatus: { type: DataTypes.SMALLINT.UNSIGNED, allowNull: false, defaultValue: 302 },
      permanenceSeconds: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 86_400 },
      rootDestination: DataTypes.TEXT,
      notFoundDestination: DataTypes.TEXT,
      endedDestination: DataTypes.TEXT,
      appSchemes: { type: DataTypes.JSON, allowNull: false, defaultValue: [] },
      proofToken: { type: EXACT_TEXT(64), allowNull: false, defaultValue: () => randomBytes(16).toString('hex') },
      registrar: { type: DataTypes.STRING(120), allowNull: false, defaultValue: '' },
      expiresOn: DataTypes.DATEONLY,
      firstYearPrice: DataTypes.DECIMAL(10, 2),
      yearlyPrice: DataTypes.DECIMAL(10, 2),
      currency: { type: DataTypes.CHAR(3), allowNull: false, defaultValue: 'EUR' },
      privacy: { type: DataTypes.ENUM('unknown', 'on', 'off'), allowNull: false, defaultValue: 'unknown' },
      version: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 1 },
      createdAt: { type: DataTypes.DATE(3), allowNull: false },
      updatedAt: { type: DataTypes.DATE(3), allowNull: false },
    },
    { sequelize, tableName: 'domain', modelName: 'Domain' },
  )
}
