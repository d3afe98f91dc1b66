import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { QueryConflict, QueryPolicy } from '../../../core/address'
import type { QueryMode, Syntax } from '../../../core/patterns'
import type { RedirectStatus } from '../../../core/table'
import { EXACT_TEXT } from './link'

export class RuleModel extends Model<InferAttributes<RuleModel>, InferCreationAttributes<RuleModel>> {
  declare id: CreationOptional<number>
  declare domainId: number
  declare position: number
  declare title: string
  declare syntax: Syntax
  declare pattern: string
  declare destination: string
  declare status: RedirectStatus
  declare query: QueryPolicy
  declare queryConflict: QueryConflict
  declare queryMode: QueryMode
  declare queryText: string
  declare exceptSlugs: string[]
  declare active: boolean
  declare note: string
  declare visits28: CreationOptional<number>
  declare version: CreationOptional<number>
  declare createdAt: Date
  declare updatedAt: Date
}

export function defineRule(sequelize: Sequelize): typeof RuleModel {
  return RuleModel.init(
    {
      id: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true, autoIncrement: true },
      domainId: { type: DataTypes.BIGINT.UNSIGNED, allowNull: false },
      position: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false },
      title: { type: DataTypes.STRING(300), allowNull: false },
      syntax: { type: DataTypes.ENUM('path', 'expression'), allowNull: false },
      pattern: { type: EXACT_TEXT(1000), allowNull: false },
      destination: { type: DataTypes.TEXT, allowNull: false },
      status: { type: DataTypes.SMALLINT.UNSIGNED, allowNull: false },
      query: { type: DataTypes.ENUM('discard', 'carry'), allowNull: false },
      queryConflict: { type: DataTypes.ENUM('destination', 'visitor', 'both'), allowNull: false },
      queryMode: { type: DataTypes.ENUM('ignore', 'contains', 'exactly'), allowNull: false },
      queryText: { type: EXACT_TEXT(500), allowNull: false },
      exceptSlugs: { type: DataTypes.JSON, allowNull: false },
      active: { type: DataTypes.BOOLEAN, allowNull: false },
      note: { type: DataTypes.TEXT, allowNull: false },
      visits28: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 0, field: 'visits_28' },
      version: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 1 },
      createdAt: { type: DataTypes.DATE(3), allowNull: false },
      updatedAt: { type: DataTypes.DATE(3), allowNull: false },
    },
    { sequelize, tableName: 'rule', modelName: 'Rule' },
  )
}
