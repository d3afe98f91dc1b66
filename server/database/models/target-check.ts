import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { Evidence, VerdictName } from '../../../core/targets'
import { EXACT_TEXT } from '../columns'

/** One check of a target. */
export class TargetCheckModel extends Model<
  InferAttributes<TargetCheckModel>,
  InferCreationAttributes<TargetCheckModel>
> {
  declare id: CreationOptional<number>
  declare targetId: number
  declare at: Date
  declare verdict: VerdictName
  declare failed: boolean
  declare milliseconds: number
  /** What it saw; of old checks that saw nothing new only their verdict is kept. */
  declare evidence: CreationOptional<Evidence | null>
}

export function defineTargetCheck(sequelize: Sequelize): typeof TargetCheckModel {
  return TargetCheckModel.init(
    {
      id: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true, autoIncrement: true },
      targetId: { type: DataTypes.BIGINT.UNSIGNED, allowNull: false },
      at: { type: DataTypes.DATE(3), allowNull: false },
      verdict: { type: EXACT_TEXT(24), allowNull: false },
      failed: { type: DataTypes.BOOLEAN, allowNull: false },
      milliseconds: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false },
      evidence: DataTypes.JSON,
    },
    { sequelize, tableName: 'target_check', modelName: 'TargetCheck' },
  )
}
