import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'

export class TagModel extends Model<InferAttributes<TagModel>, InferCreationAttributes<TagModel>> {
  declare id: CreationOptional<number>
  declare name: string
}

export class LinkTagModel extends Model<InferAttributes<LinkTagModel>, InferCreationAttributes<LinkTagModel>> {
  declare linkId: number
  declare tagId: number
}

export function defineTag(sequelize: Sequelize): typeof TagModel {
  return TagModel.init(
    {
      id: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true, autoIncrement: true },
      name: { type: DataTypes.STRING(60), allowNull: false },
    },
    { sequelize, tableName: 'tag', modelName: 'Tag' },
  )
}

export function defineLinkTag(sequelize: Sequelize): typeof LinkTagModel {
  return LinkTagModel.init(
    {
      linkId: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true },
      tagId: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true },
    },
    { sequelize, tableName: 'link_tag', modelName: 'LinkTag' },
  )
}
