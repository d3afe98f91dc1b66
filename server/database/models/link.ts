import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { QueryConflict, QueryPolicy } from '../../../core/address'
import type { DecidedStanding, RedirectStatus } from '../../../core/table'

// Slugs compare byte for byte, unpadded; Sequelize takes the column type as text.
export const EXACT_TEXT = (length: number) => `VARCHAR(${length}) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin`

export class LinkModel extends Model<InferAttributes<LinkModel>, InferCreationAttributes<LinkModel>> {
  declare id: CreationOptional<number>
  declare domainId: number
  declare slug: string
  declare canonical: string | null
  declare forwardsTo: CreationOptional<number | null>
  declare exception: CreationOptional<boolean>
  declare destination: string
  declare destinationHash: string
  declare status: RedirectStatus
  declare query: QueryPolicy
  declare queryConflict: QueryConflict
  declare title: string
  declare note: string
  declare owner: string
  declare standing: DecidedStanding
  declare startsAt: Date | null
  declare endsAt: Date | null
  declare resumesAt: Date | null
  declare endedDestination: string | null
  declare robots: string | null
  declare referrerPolicy: string | null
  declare searchText: string
  declare visits28: CreationOptional<number>
  declare version: CreationOptional<number>
  declare createdAt: Date
  declare updatedAt: Date
}

export function defineLink(sequelize: Sequelize): typeof LinkModel {
  return LinkModel.init(
    {
      id: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true, autoIncrement: true },
      domainId: { type: DataTypes.BIGINT.UNSIGNED, allowNull: false },
      slug: { type: EXACT_TEXT(200), allowNull: false },
      canonical: EXACT_TEXT(600),
      forwardsTo: DataTypes.BIGINT.UNSIGNED,
      exception: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
      destination: { type: DataTypes.TEXT, allowNull: false },
      destinationHash: { type: DataTypes.CHAR(64), allowNull: false },
      status: { type: DataTypes.SMALLINT.UNSIGNED, allowNull: false },
      query: { type: DataTypes.ENUM('discard', 'carry'), allowNull: false },
      queryConflict: { type: DataTypes.ENUM('destination', 'visitor', 'both'), allowNull: false },
      title: { type: DataTypes.STRING(300), allowNull: false },
      note: { type: DataTypes.TEXT, allowNull: false },
      owner: { type: DataTypes.STRING(120), allowNull: false },
      standing: { type: DataTypes.ENUM('live', 'paused', 'ended', 'retired'), allowNull: false },
      startsAt: DataTypes.DATE(3),
      endsAt: DataTypes.DATE(3),
      resumesAt: DataTypes.DATE(3),
      endedDestination: DataTypes.TEXT,
      robots: DataTypes.STRING(120),
      referrerPolicy: DataTypes.STRING(40),
      // Octets of UTF-8: looking for a piece among 100,000 is several times faster than in text.
      searchText: { type: DataTypes.BLOB, allowNull: false },
      visits28: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 0, field: 'visits_28' },
      version: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 1 },
      createdAt: { type: DataTypes.DATE(3), allowNull: false },
      updatedAt: { type: DataTypes.DATE(3), allowNull: false },
    },
    { sequelize, tableName: 'link', modelName: 'Link' },
  )
}
