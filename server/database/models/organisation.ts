import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'

export class OrganisationModel extends Model<
  InferAttributes<OrganisationModel>,
  InferCreationAttributes<OrganisationModel>
> {
  declare id: CreationOptional<number>
  declare name: string
  declare timeZone: string
  declare revision: CreationOptional<number>
  declare createdAt: Date
}

export function defineOrganisation(sequelize: Sequelize): typeof OrganisationModel {
  return OrganisationModel.init(
    {
      id: { type: DataTypes.TINYINT.UNSIGNED, primaryKey: true, defaultValue: 1 },
      name: { type: DataTypes.STRING(120), allowNull: false },
      timeZone: { type: DataTypes.STRING(64), allowNull: false },
      revision: { type: DataTypes.BIGINT.UNSIGNED, allowNull: false, defaultValue: 0 },
      createdAt: { type: DataTypes.DATE(3), allowNull: false },
    },
    { sequelize, tableName: 'organisation', modelName: 'Organisation' },
  )
}
