import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'

/** A day on which somebody should look at a link. */
export class LinkDateModel extends Model<InferAttributes<LinkDateModel>, InferCreationAttributes<LinkDateModel>> {
  declare id: CreationOptional<number>
  declare linkId: number
  declare kind: 'look-again' | 'ends-there'
  /** YYYY-MM-DD */
  declare day: string
  declare note: CreationOptional<string>
  declare remindDays: CreationOptional<number>
  declare madeBy: string
  declare madeAt: Date
  declare doneAt: CreationOptional<Date | null>
}

export function defineLinkDate(sequelize: Sequelize): typeof LinkDateModel {
  return LinkDateModel.init(
    {
      id: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true, autoIncrement: true },
      linkId: { type: DataTypes.BIGINT.UNSIGNED, allowNull: false },
      kind: { type: DataTypes.ENUM('look-again', 'ends-there'), allowNull: false },
      day: { type: DataTypes.DATEONLY, allowNull: false },
      note: { type: DataTypes.STRING(300), allowNull: false, defaultValue: '' },
      remindDays: { type: DataTypes.SMALLINT.UNSIGNED, allowNull: false, defaultValue: 7 },
      madeBy: { type: DataTypes.STRING(160), allowNull: false },
      madeAt: { type: DataTypes.DATE(3), allowNull: false },
      doneAt: DataTypes.DATE(3),
    },
    { sequelize, tableName: 'link_date', modelName: 'LinkDate' },
  )
}
