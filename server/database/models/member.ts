import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { Role } from '../../../core/schemas'
import { EXACT_TEXT } from '../columns'

export class MemberModel extends Model<InferAttributes<MemberModel>, InferCreationAttributes<MemberModel>> {
  declare id: CreationOptional<number>
  declare email: string
  declare name: string
  declare role: Role
  declare passwordHash: string | null
  declare codeSecret: CreationOptional<Buffer | null>
  declare codeSecretOffered: CreationOptional<Buffer | null>
  declare codeStep: CreationOptional<number>
  declare active: CreationOptional<boolean>
  declare version: CreationOptional<number>
  declare createdAt: Date
}

export function defineMember(sequelize: Sequelize): typeof MemberModel {
  return MemberModel.init(
    {
      id: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true, autoIncrement: true },
      email: { type: EXACT_TEXT(254), allowNull: false },
      name: { type: DataTypes.STRING(120), allowNull: false },
      role: { type: DataTypes.ENUM('administrator', 'editor', 'viewer'), allowNull: false },
      passwordHash: DataTypes.STRING(255),
      codeSecret: DataTypes.BLOB,
      codeSecretOffered: DataTypes.BLOB,
      codeStep: { type: DataTypes.BIGINT.UNSIGNED, allowNull: false, defaultValue: 0 },
      active: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: true },
      version: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 1 },
      createdAt: { type: DataTypes.DATE(3), allowNull: false },
    },
    { sequelize, tableName: 'member', modelName: 'Member' },
  )
}
