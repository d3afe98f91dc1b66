import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { Columns, InferredRule } from '../../../core/formats'
import { INTAKE_STATES, type IntakeOptions, type Role } from '../../../core/schemas'
import { EXACT_TEXT } from '../columns'
import { JOB_COLUMNS } from './job-columns'

/** A rule that says what many rows of a file say, as it is kept. */
export type KeptFamily = Pick<
  InferredRule,
  'pattern' | 'destination' | 'query' | 'queryConflict' | 'takes' | 'beyond'
> & {
  domainId: number
  status: number
  links: number
  exceptions: number
  taken: boolean
}

/** What was found out about a file beside its rows. */
export interface IntakeAbout {
  families?: KeptFamily[]
  remarks?: { file: string; line: number; sentence: string }[]
  sample?: string[][]
  columns?: Columns
  /** The file of the same name that was brought in before. */
  follows?: { id: number; at: string }
  /** Rows that answer for good where they stand so far. */
  permanent?: number
}

/** A file that was brought in: read, decided row by row, applied as one. */
export class IntakeModel extends Model<InferAttributes<IntakeModel>, InferCreationAttributes<IntakeModel>> {
  declare id: CreationOptional<number>
  declare state: (typeof INTAKE_STATES)[number]
  declare memberId: number | null
  declare actor: string
  declare role: Role
  declare name: string
  declare options: IntakeOptions
  declare format: CreationOptional<string>
  declare readAs: CreationOptional<string>
  declare lineCount: CreationOptional<number>
  declare about: CreationOptional<IntakeAbout>
  declare reason: CreationOptional<string>
  declare step: CreationOptional<string>
  declare total: CreationOptional<number>
  declare done: CreationOptional<number>
  declare problem: CreationOptional<string>
  declare entryId: CreationOptional<number | null>
  declare madeAt: Date
  declare endedAt: CreationOptional<Date | null>
  declare version: CreationOptional<number>
  declare leasedUntil: CreationOptional<Date | null>
  declare resumeState: CreationOptional<string | null>
  declare resumeProblem: CreationOptional<string | null>
  declare resumeEnded: CreationOptional<boolean>
}

export function defineIntake(sequelize: Sequelize): typeof IntakeModel {
  return IntakeModel.init(
    {
      id: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true, autoIncrement: true },
      state: { type: DataTypes.ENUM(...INTAKE_STATES), allowNull: false },
      memberId: DataTypes.BIGINT.UNSIGNED,
      actor: { type: DataTypes.STRING(160), allowNull: false },
      role: { type: EXACT_TEXT(20), allowNull: false },
      name: { type: DataTypes.STRING(300), allowNull: false },
      options: { type: DataTypes.JSON, allowNull: false },
      format: { type: EXACT_TEXT(40), allowNull: false, defaultValue: '' },
      readAs: { type: DataTypes.STRING(300), allowNull: false, defaultValue: '' },
      lineCount: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 0 },
      about: { type: DataTypes.JSON, allowNull: false, defaultValue: {} },
      reason: { type: DataTypes.STRING(500), allowNull: false, defaultValue: '' },
      step: { type: DataTypes.STRING(40), allowNull: false, defaultValue: '' },
      total: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 0 },
      done: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 0 },
      problem: { type: DataTypes.STRING(600), allowNull: false, defaultValue: '' },
      entryId: DataTypes.BIGINT.UNSIGNED,
      madeAt: { type: DataTypes.DATE(3), allowNull: false },
      endedAt: DataTypes.DATE(3),
      ...JOB_COLUMNS,
    },
    { sequelize, tableName: 'intake', modelName: 'Intake' },
  )
}
