import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'

export class PasskeyModel extends Model<InferAttributes<PasskeyModel>, InferCreationAttributes<PasskeyModel>> {
  declare id: CreationOptional<number>
  declare memberId: number
  declare name: string
  /** The credential's id, as WebAuthn's JSON has it. */
  declare credential: string
  declare publicKey: Buffer
  declare counter: number
  declare transports: string[]
  declare createdAt: Date
  declare usedAt: CreationOptional<Date | null>
}

export function definePasskey(sequelize: Sequelize): typeof PasskeyModel {
  return PasskeyModel.init(
    {
      id: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true, autoIncrement: true },
      memberId: { type: DataTypes.BIGINT.UNSIGNED, allowNull: false },
      name: { type: DataTypes.STRING(60), allowNull: false },
      credential: { type: DataTypes.STRING(700), allowNull: false },
      publicKey: { type: DataTypes.BLOB, allowNull: false },
      counter: { type: DataTypes.BIGINT.UNSIGNED, allowNull: false },
      transports: { type: DataTypes.JSON, allowNull: false },
      createdAt: { type: DataTypes.DATE(3), allowNull: false },
      usedAt: DataTypes.DATE(3),
    },
    { sequelize, tableName: 'passkey', modelName: 'Passkey' },
  )
}
