import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'

export class PlacementModel extends Model<InferAttributes<PlacementModel>, InferCreationAttributes<PlacementModel>> {
  declare id: CreationOptional<number>
  declare linkId: number
  declare medium: string
  declare place: string
  declare placedOn: string | null
  declare copies: number | null
  declare changeable: boolean
  declare createdAt: Date
}

export function definePlacement(sequelize: Sequelize): typeof PlacementModel {
  return PlacementModel.init(
    {
      id: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true, autoIncrement: true },
      linkId: { type: DataTypes.BIGINT.UNSIGNED, allowNull: false },
      medium: { type: DataTypes.STRING(120), allowNull: false },
      place: { type: DataTypes.STRING(300), allowNull: false },
      placedOn: DataTypes.DATEONLY,
      copies: DataTypes.INTEGER.UNSIGNED,
      changeable: { type: DataTypes.BOOLEAN, allowNull: false },
      createdAt: { type: DataTypes.DATE(3), allowNull: false },
    },
    { sequelize, tableName: 'placement', modelName: 'Placement' },
  )
}
