import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type {
  Confidence,
  Evidence,
  FrameFields,
  FoundRemedies,
  PreviewCard,
  Standing,
  VerdictName,
} from '../../../core/targets'
import { EXACT_TEXT } from '../columns'

/** One destination, asked once however many links lead there. */
export class TargetModel extends Model<InferAttributes<TargetModel>, InferCreationAttributes<TargetModel>> {
  declare id: CreationOptional<number>
  declare hash: string
  declare destination: string
  declare host: string
  declare verdict: CreationOptional<VerdictName | null>
  declare confidence: CreationOptional<Confidence | null>
  declare sentence: CreationOptional<string | null>
  declare final: CreationOptional<string | null>
  declare since: CreationOptional<Date | null>
  declare standing: CreationOptional<Standing | null>
  declare title: CreationOptional<string>
  declare card: CreationOptional<PreviewCard | null>
  declare frames: CreationOptional<FrameFields | null>
  /** What the last check saw. */
  declare evidence: CreationOptional<Evidence | null>
  declare checkedAt: CreationOptional<Date | null>
  declare checks: CreationOptional<number>
  /** Whether it answers HEAD as it answers GET; `null` where that was not tried. */
  declare headWorks: CreationOptional<boolean | null>
  declare urgent: CreationOptional<boolean>
  declare dueAt: Date
  declare leasedUntil: CreationOptional<Date | null>
  declare leasedBy: CreationOptional<string | null>
  declare remedies: CreationOptional<FoundRemedies | null>
  declare remediesAt: CreationOptional<Date | null>
  declare remediesDue: CreationOptional<boolean>
  declare madeAt: Date
  /** Asked until then although nothing leads there yet. */
  declare wantedUntil: CreationOptional<Date | null>
}

export function defineTarget(sequelize: Sequelize): typeof TargetModel {
  return TargetModel.init(
    {
      id: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true, autoIncrement: true },
      hash: { type: EXACT_TEXT(64), allowNull: false },
      destination: { type: DataTypes.TEXT, allowNull: false },
      host: { type: EXACT_TEXT(255), allowNull: false },
      verdict: EXACT_TEXT(24),
      confidence: DataTypes.ENUM('sound', 'doubtful', 'broken'),
      sentence: DataTypes.TEXT,
      final: DataTypes.TEXT,
      since: DataTypes.DATE(3),
      standing: DataTypes.JSON,
      title: { type: DataTypes.STRING(300), allowNull: false, defaultValue: '' },
      card: DataTypes.JSON,
      frames: DataTypes.JSON,
      evidence: DataTypes.JSON,
      checkedAt: DataTypes.DATE(3),
      checks: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 0 },
      headWorks: DataTypes.BOOLEAN,
      urgent: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
      dueAt: { type: DataTypes.DATE(3), allowNull: false },
      leasedUntil: DataTypes.DATE(3),
      leasedBy: EXACT_TEXT(120),
      remedies: DataTypes.JSON,
      remediesAt: DataTypes.DATE(3),
      remediesDue: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
      madeAt: { type: DataTypes.DATE(3), allowNull: false },
      wantedUntil: DataTypes.DATE(3),
    },
    { sequelize, tableName: 'target', modelName: 'Target' },
  )
}
