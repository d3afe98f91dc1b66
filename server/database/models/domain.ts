import { randomBytes } from 'node:crypto'
import { DataTypes, Model, type CreationOptional, type Sequelize } from 'sequelize'
import { DOMAIN_FIELDS, type KeptOf } from '../../../core/rows'
import { attributesOf, EXACT_TEXT } from '../columns'
import type { NewRow } from './new-row'

export type DomainAttributes = KeptOf<typeof DOMAIN_FIELDS> & {
  proofToken: string
  version: number
  createdAt: Date
  updatedAt: Date
}
export type NewDomain = NewRow<DomainAttributes, 'host' | 'createdAt' | 'updatedAt'>

// eslint-disable-next-line @typescript-eslint/no-unsafe-declaration-merging, @typescript-eslint/no-empty-object-type
export interface DomainModel extends DomainAttributes {}
// eslint-disable-next-line @typescript-eslint/no-unsafe-declaration-merging
export class DomainModel extends Model<DomainAttributes, NewDomain> {
  declare id: CreationOptional<number>
}

export function defineDomain(sequelize: Sequelize): typeof DomainModel {
  return DomainModel.init(
    {
      ...attributesOf(DOMAIN_FIELDS),
      expiresOn: { type: DataTypes.DATEONLY, allowNull: true },
      proofToken: { type: EXACT_TEXT(64), allowNull: false, defaultValue: () => randomBytes(16).toString('hex') },
      version: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 1 },
      createdAt: { type: DataTypes.DATE(3), allowNull: false },
      updatedAt: { type: DataTypes.DATE(3), allowNull: false },
    } as never,
    { sequelize, tableName: 'domain', modelName: 'Domain' },
  )
}
