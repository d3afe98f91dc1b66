import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { TokenScope } from '../../../core/schemas'

export class ApiTokenModel extends Model<InferAttributes<ApiTokenModel>, InferCreationAttributes<ApiTokenModel>> {
  declare id: CreationOptional<number>
  declare memberId: number
  declare name: string
  declare hash: string
  declare scope: TokenScope
  /** Ids of the domains it is limited to; empty for all. */
  declare domains: CreationOptional<number[]>
  declare createdAt: Date
  declare expiresAt: Date | null
  declare lastUsedAt: CreationOptional<Date | null>
  declare revokedAt: CreationOptional<Date | null>
}

export function defineApiToken(sequelize: Sequelize): typeof ApiTokenModel {
  return ApiTokenModel.init(
    {
      id: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true, autoIncrement: true },
      memberId: { type: DataTypes.BIGINT.UNSIGNED, allowNull: false },
      name: { type: DataTypes.STRING(120), allowNull: false },
      hash: { type: DataTypes.CHAR(64), allowNull: false },
      scope: { type: DataTypes.ENUM('read', 'write', 'administer'), allowNull: false },
      domains: { type: DataTypes.JSON, allowNull: false, defaultValue: [] },
      createdAt: { type: DataTypes.DATE(3), allowNull: false },
      expiresAt: DataTypes.DATE(3),
      lastUsedAt: DataTypes.DATE(3),
      revokedAt: DataTypes.DATE(3),
    },
    { sequelize, tableName: 'api_token', modelName: 'ApiToken' },
  )
}
