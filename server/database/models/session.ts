import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'

export class SessionModel extends Model<InferAttributes<SessionModel>, InferCreationAttributes<SessionModel>> {
  declare id: CreationOptional<number>
  declare hash: string
  declare memberId: number
  declare whole: boolean
  declare agent: string
  declare createdAt: Date
  declare seenAt: Date
  declare confirmedAt: Date
  declare challenge: CreationOptional<string | null>
}

export function defineSession(sequelize: Sequelize): typeof SessionModel {
  return SessionModel.init(
    {
      id: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true, autoIncrement: true },
      hash: { type: DataTypes.CHAR(64), allowNull: false },
      memberId: { type: DataTypes.BIGINT.UNSIGNED, allowNull: false },
      whole: { type: DataTypes.BOOLEAN, allowNull: false },
      agent: { type: DataTypes.STRING(200), allowNull: false },
      createdAt: { type: DataTypes.DATE(3), allowNull: false },
      seenAt: { type: DataTypes.DATE(3), allowNull: false },
      confirmedAt: { type: DataTypes.DATE(3), allowNull: false },
      challenge: DataTypes.STRING(100),
    },
    { sequelize, tableName: 'session', modelName: 'Session' },
  )
}
