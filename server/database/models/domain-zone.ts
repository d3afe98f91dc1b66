import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import { EXACT_TEXT } from '../columns'

export class DomainZoneModel extends Model<InferAttributes<DomainZoneModel>, InferCreationAttributes<DomainZoneModel>> {
  declare domainId: number
  declare origin: string
  declare text: Buffer
  /** The zone as our own pushes left it; `null` before the first. */
  declare pushedText: CreationOptional<Buffer | null>
  declare source: 'file' | 'transfer' | 'asked'
  declare toldBy: CreationOptional<string>
  declare readAt: Date
}

export function defineDomainZone(sequelize: Sequelize): typeof DomainZoneModel {
  return DomainZoneModel.init(
    {
      domainId: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true },
      origin: { type: EXACT_TEXT(1100), allowNull: false },
      text: { type: DataTypes.BLOB('medium'), allowNull: false },
      pushedText: DataTypes.BLOB('medium'),
      source: { type: DataTypes.ENUM('file', 'transfer', 'asked'), allowNull: false },
      toldBy: { type: DataTypes.STRING(300), allowNull: false, defaultValue: '' },
      readAt: { type: DataTypes.DATE(3), allowNull: false },
    },
    { sequelize, tableName: 'domain_zone', modelName: 'DomainZone' },
  )
}

export class UpdateKeyModel extends Model<InferAttributes<UpdateKeyModel>, InferCreationAttributes<UpdateKeyModel>> {
  declare domainId: number
  declare server: string
  declare keyName: string
  declare secretSealed: Buffer
  /** The server was seen to sign by itself what it was sent. */
  declare serverSigns: CreationOptional<boolean>
}

export function defineUpdateKey(sequelize: Sequelize): typeof UpdateKeyModel {
  return UpdateKeyModel.init(
    {
      domainId: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true },
      server: { type: EXACT_TEXT(80), allowNull: false },
      keyName: { type: EXACT_TEXT(260), allowNull: false },
      secretSealed: { type: DataTypes.BLOB('tiny'), allowNull: false },
      serverSigns: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
    },
    { sequelize, tableName: 'update_key', modelName: 'UpdateKey' },
  )
}
