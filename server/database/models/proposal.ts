import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { ChangeSpec } from '../../../core/changes'
import {
  PROPOSAL_STATES,
  type ChangeSelection,
  type ProposalCounts,
  type ProposalStops,
  type Role,
} from '../../../core/schemas'
import { EXACT_TEXT } from '../columns'
import { JOB_COLUMNS } from './job-columns'

/** A change to many links that is worked out, looked at, and made at once or at a moment. */
export class ProposalModel extends Model<InferAttributes<ProposalModel>, InferCreationAttributes<ProposalModel>> {
  declare id: CreationOptional<number>
  declare state: (typeof PROPOSAL_STATES)[number]
  declare memberId: number | null
  declare actor: string
  declare role: Role
  declare selection: ChangeSelection
  declare spec: ChangeSpec
  declare words: string
  declare reason: string
  declare at: CreationOptional<Date | null>
  declare stops: CreationOptional<ProposalStops>
  declare revision: CreationOptional<number>
  declare total: CreationOptional<number>
  declare done: CreationOptional<number>
  declare counts: CreationOptional<Partial<ProposalCounts>>
  declare problem: CreationOptional<string>
  declare entryId: CreationOptional<number | null>
  /** The proposal that must have been applied before this one is. */
  declare afterId: CreationOptional<number | null>
  declare madeAt: Date
  declare endedAt: CreationOptional<Date | null>
  /** The state and version whoever set it was told of. */
  declare toldState: CreationOptional<string | null>
  declare version: CreationOptional<number>
  declare leasedUntil: CreationOptional<Date | null>
  declare resumeState: CreationOptional<string | null>
  declare resumeProblem: CreationOptional<string | null>
  declare resumeEnded: CreationOptional<boolean>
}

export function defineProposal(sequelize: Sequelize): typeof ProposalModel {
  return ProposalModel.init(
    {
      id: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true, autoIncrement: true },
      state: { type: DataTypes.ENUM(...PROPOSAL_STATES), allowNull: false },
      memberId: DataTypes.BIGINT.UNSIGNED,
      actor: { type: DataTypes.STRING(160), allowNull: false },
      role: { type: EXACT_TEXT(20), allowNull: false },
      selection: { type: DataTypes.JSON, allowNull: false },
      spec: { type: DataTypes.JSON, allowNull: false },
      words: { type: DataTypes.STRING(600), allowNull: false },
      reason: { type: DataTypes.STRING(500), allowNull: false },
      at: DataTypes.DATE(3),
      stops: { type: DataTypes.JSON, allowNull: false, defaultValue: {} },
      revision: { type: DataTypes.BIGINT.UNSIGNED, allowNull: false, defaultValue: 0 },
      total: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 0 },
      done: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 0 },
      counts: { type: DataTypes.JSON, allowNull: false, defaultValue: {} },
      problem: { type: DataTypes.STRING(600), allowNull: false, defaultValue: '' },
      entryId: DataTypes.BIGINT.UNSIGNED,
      afterId: DataTypes.BIGINT.UNSIGNED,
      madeAt: { type: DataTypes.DATE(3), allowNull: false },
      endedAt: DataTypes.DATE(3),
      toldState: DataTypes.STRING(60),
      ...JOB_COLUMNS,
    },
    { sequelize, tableName: 'proposal', modelName: 'Proposal' },
  )
}
