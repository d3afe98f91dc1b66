import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { LaneName } from '../../../core/docket'
import type { NoticeSettings } from '../../../core/notices'

/** What a member is told, and when. */
export class NoticeSettingModel extends Model<
  InferAttributes<NoticeSettingModel>,
  InferCreationAttributes<NoticeSettingModel>
> {
  declare memberId: number
  declare lanes: LaneName[]
  declare onlyMine: boolean
  declare minVisits: number
  declare digest: NoticeSettings['digest']
  declare digestHour: number
  declare digestWeekday: number
  declare atOnce: boolean
  declare atOnceVisits: number
  declare quiet: boolean
  declare quietFrom: number
  declare quietTo: number
  declare report: CreationOptional<boolean>
  declare version: CreationOptional<number>
}

export function defineNoticeSetting(sequelize: Sequelize): typeof NoticeSettingModel {
  return NoticeSettingModel.init(
    {
      memberId: { type: DataTypes.BIGINT.UNSIGNED, primaryKey: true },
      lanes: { type: DataTypes.JSON, allowNull: false },
      onlyMine: { type: DataTypes.BOOLEAN, allowNull: false },
      minVisits: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false },
      digest: { type: DataTypes.ENUM('none', 'daily', 'weekly'), allowNull: false },
      digestHour: { type: DataTypes.TINYINT.UNSIGNED, allowNull: false },
      digestWeekday: { type: DataTypes.TINYINT.UNSIGNED, allowNull: false },
      atOnce: { type: DataTypes.BOOLEAN, allowNull: false },
      atOnceVisits: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false },
      quiet: { type: DataTypes.BOOLEAN, allowNull: false },
      quietFrom: { type: DataTypes.TINYINT.UNSIGNED, allowNull: false },
      quietTo: { type: DataTypes.TINYINT.UNSIGNED, allowNull: false },
      report: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
      version: { type: DataTypes.INTEGER.UNSIGNED, allowNull: false, defaultValue: 1 },
    },
    { sequelize, tableName: 'notice_setting', modelName: 'NoticeSetting' },
  )
}
