import { DataTypes } from 'sequelize'
import { EXACT_TEXT } from '../columns'

/** Columns that the row of every long job has: what its lease is, and what an interrupted work becomes. */
export const JOB_COLUMNS = {
  version: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 1 },
  leasedUntil: DataTypes.DATE(3),
  resumeState: EXACT_TEXT(20),
  resumeProblem: DataTypes.STRING(600),
  resumeEnded: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
}
