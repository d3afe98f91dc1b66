import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { MissRanking } from '../../../core/schemas'
import { EXACT_TEXT } from '../columns'

/** Why a miss is noise: a sign in its path, robots alone, scans alone, or somebody decided so. */
export type MissNoise = 'sign' | 'robots' | 'scatter' | 'decided' | 'shape'

/** What answers a path that found nothing before. */
export interface AnsweredBy {
  by: 'link' | 'alias' | 'rule' | 'mended' | 'gone'
  linkId: number | null
  ruleId: number | null
  /** How the address reads that visitors are led by. */
  address: string
}

/** One requested path that does not exist on a domain, with what is known of the requests. */
export class MissModel extends Model<InferAttributes<MissModel>, InferCreationAttributes<MissModel>> {
  declare id: CreationOptional<number>
  declare domainId: number
  declare path: string
  declare shape: string
  /** The link behind an address that is gone. */
  declare linkId: number | null
  declare firstAt: Date
  declare lastAt: Date
  declare requests28: CreationOptional<number>
  declare visitors28: CreationOptional<number>
  declare noise: CreationOptional<MissNoise | null>
  declare noiseWhy: CreationOptional<string>
  declare answered: CreationOptional<boolean>
  declare answeredAt: CreationOptional<Date | null>
  declare answeredBy: CreationOptional<AnsweredBy | null>
  declare ranking: CreationOptional<MissRanking | null>
  declare likely: CreationOptional<number | string>
  declare followed: CreationOptional<Record<string, number>>
  declare countries: CreationOptional<Record<string, number>>
  /** Something about it has changed that its ranking does not know. */
  declare due: CreationOptional<boolean>
  declare version: CreationOptional<number>
}

export function defineMiss(sequelize: Sequelize): typeof MissModel {
  return MissModel.init(
    {
      id: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true, autoIncrement: true },
      domainId: { type: DataTypes.BIGINT.UNSIGNED, allowNull: false },
      path: { type: EXACT_TEXT(600), allowNull: false },
      shape: { type: EXACT_TEXT(600), allowNull: false },
      linkId: DataTypes.BIGINT.UNSIGNED,
      firstAt: { type: DataTypes.DATE(3), allowNull: false },
      lastAt: { type: DataTypes.DATE(3), allowNull: false },
      requests28: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 0, field: 'requests_28' },
      visitors28: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 0, field: 'visitors_28' },
      noise: DataTypes.ENUM('sign', 'robots', 'scatter', 'decided', 'shape'),
      noiseWhy: { type: DataTypes.STRING(200), allowNull: false, defaultValue: '' },
      answered: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
      answeredAt: DataTypes.DATE(3),
      answeredBy: DataTypes.JSON,
      ranking: DataTypes.JSON,
      likely: { type: DataTypes.DECIMAL(6, 5), allowNull: false, defaultValue: 0 },
      followed: { type: DataTypes.JSON, allowNull: false, defaultValue: {} },
      countries: { type: DataTypes.JSON, allowNull: false, defaultValue: {} },
      due: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: true },
      version: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 1 },
    },
    { sequelize, tableName: 'miss', modelName: 'Miss' },
  )
}
