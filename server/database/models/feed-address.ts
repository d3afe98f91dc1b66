import { DataTypes, Model, type InferAttributes, type InferCreationAttributes, type Sequelize } from 'sequelize'
import { EXACT_TEXT } from '../columns'

/** An address by which a member reads a calendar or feed without signing in; only its hash is kept. */
export class FeedAddressModel extends Model<
  InferAttributes<FeedAddressModel>,
  InferCreationAttributes<FeedAddressModel>
> {
  declare memberId: number
  declare kind: 'calendar' | 'ledger'
  declare hash: string
  declare madeAt: Date
}

export function defineFeedAddress(sequelize: Sequelize): typeof FeedAddressModel {
  return FeedAddressModel.init(
    {
      memberId: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true },
      kind: { type: DataTypes.ENUM('calendar', 'ledger'), primaryKey: true },
      hash: { type: EXACT_TEXT(64), allowNull: false },
      madeAt: { type: DataTypes.DATE(3), allowNull: false },
    },
    { sequelize, tableName: 'feed_address', modelName: 'FeedAddress' },
  )
}
