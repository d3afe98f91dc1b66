import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { Certificate, Reach } from '../../../core/schemas'
import { EXACT_TEXT } from '../columns'

/** A name server of a domain's zone, by its name and where it is reached: first where it is asked for records. */
export interface KnownServer {
  name: string
  address: string
  /** Its further addresses. */
  others?: string[]
}

export class DomainWatchModel extends Model<
  InferAttributes<DomainWatchModel>,
  InferCreationAttributes<DomainWatchModel>
> {
  declare domainId: number
  declare dueAt: Date
  declare leasedUntil: CreationOptional<Date | null>
  declare lookedAt: CreationOptional<Date | null>
  declare why: CreationOptional<string>
  declare zoneOrigin: CreationOptional<string | null>
  declare servers: CreationOptional<KnownServer[]>
  declare serversAt: CreationOptional<Date | null>
  declare loweredAt: CreationOptional<Date | null>
  declare changedAt: CreationOptional<Date | null>
  declare heldUntil: CreationOptional<Date | null>
  declare everyoneBy: CreationOptional<Date | null>
  declare reach: CreationOptional<Reach | null>
  declare certificate: CreationOptional<Certificate | null>
  declare signing: CreationOptional<'unsigned' | 'sound' | 'broken' | 'ending' | null>
}

export function defineDomainWatch(sequelize: Sequelize): typeof DomainWatchModel {
  return DomainWatchModel.init(
    {
      domainId: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true },
      dueAt: { type: DataTypes.DATE(3), allowNull: false },
      leasedUntil: DataTypes.DATE(3),
      lookedAt: DataTypes.DATE(3),
      why: { type: DataTypes.STRING(120), allowNull: false, defaultValue: '' },
      zoneOrigin: EXACT_TEXT(1100),
      servers: { type: DataTypes.JSON, allowNull: false, defaultValue: [] },
      serversAt: DataTypes.DATE(3),
      loweredAt: DataTypes.DATE(3),
      changedAt: DataTypes.DATE(3),
      heldUntil: DataTypes.DATE(3),
      everyoneBy: DataTypes.DATE(3),
      reach: DataTypes.JSON,
      certificate: DataTypes.JSON,
      signing: DataTypes.STRING(12),
    },
    { sequelize, tableName: 'domain_watch', modelName: 'DomainWatch' },
  )
}
