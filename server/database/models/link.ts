import { DataTypes, Model, type CreationOptional, type Sequelize } from 'sequelize'
import { LINK_FIELDS, type KeptOf } from '../../../core/rows'
import { attributesOf } from '../columns'
import type { NewRow } from './new-row'

export type LinkAttributes = KeptOf<typeof LINK_FIELDS> & { searchText: string }
export type NewLink = NewRow<
  LinkAttributes,
  | 'domainId'
  | 'slug'
  | 'canonical'
  | 'destination'
  | 'destinationHash'
  | 'status'
  | 'searchText'
  | 'createdAt'
  | 'updatedAt'
>

// eslint-disable-next-line @typescript-eslint/no-unsafe-declaration-merging, @typescript-eslint/no-empty-object-type
export interface LinkModel extends LinkAttributes {}
// eslint-disable-next-line @typescript-eslint/no-unsafe-declaration-merging
export class LinkModel extends Model<LinkAttributes, NewLink> {
  declare id: CreationOptional<number>
}

export function defineLink(sequelize: Sequelize): typeof LinkModel {
  return LinkModel.init(
    {
      ...attributesOf(LINK_FIELDS),
      // Octets of UTF-8: looking for a piece among 100,000 is several times faster than in text.
      searchText: { type: DataTypes.BLOB, allowNull: false },
    } as never,
    { sequelize, tableName: 'link', modelName: 'Link' },
  )
}
