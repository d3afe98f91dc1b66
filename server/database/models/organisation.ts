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
  declare checkNetworks: CreationOptional<string[]>
  declare checkPerHost: CreationOptional<number>
  declare checkPerSecond: CreationOptional<string | number>
  declare checkContact: CreationOptional<string>
  declare brokenAfter: CreationOptional<number>
  declare brokenOverMinutes: CreationOptional<number>
  /** Visits are kept one by one for so many days. */
  declare visitDays: CreationOptional<number>
  declare keepNetwork: CreationOptional<boolean>
  declare honourGpc: CreationOptional<boolean>
  /** Countries of fewer people than this are not told apart. */
  declare fewPeople: CreationOptional<number>
  /** Since when checks rest because this machine itself seems cut off. */
  declare checksPausedSince: CreationOptional<Date | null>
  declare version: CreationOptional<number>
}

export function defineOrganisation(sequelize: Sequelize): typeof OrganisationModel {
  return OrganisationModel.init(
    {
      id: { type: DataTypes.TINYINT.UNSIGNED, primaryKey: true, defaultValue: 1 },
      name: { type: DataTypes.STRING(120), allowNull: false },
      timeZone: { type: DataTypes.STRING(64), allowNull: false },
      revision: { type: DataTypes.BIGINT.UNSIGNED, allowNull: false, defaultValue: 0 },
      createdAt: { type: DataTypes.DATE(3), allowNull: false },
      checkNetworks: { type: DataTypes.JSON, allowNull: false, defaultValue: [] },
      checkPerHost: { type: DataTypes.SMALLINT.UNSIGNED, allowNull: false, defaultValue: 2 },
      checkPerSecond: { type: DataTypes.DECIMAL(5, 2), allowNull: false, defaultValue: 1 },
      checkContact: { type: DataTypes.STRING(254), allowNull: false, defaultValue: '' },
      brokenAfter: { type: DataTypes.SMALLINT.UNSIGNED, allowNull: false, defaultValue: 3 },
      brokenOverMinutes: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 120 },
      visitDays: { type: DataTypes.SMALLINT.UNSIGNED, allowNull: false, defaultValue: 90 },
      keepNetwork: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
      honourGpc: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: true },
      fewPeople: { type: DataTypes.SMALLINT.UNSIGNED, allowNull: false, defaultValue: 5 },
      checksPausedSince: DataTypes.DATE(3),
      version: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 1 },
    },
    { sequelize, tableName: 'organisation', modelName: 'Organisation' },
  )
}
