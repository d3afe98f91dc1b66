import { Model, type CreationOptional, type Sequelize } from 'sequelize'
import { RULE_FIELDS, type KeptOf } from '../../../core/rows'
import { attributesOf } from '../columns'
import type { NewRow } from './new-row'

export type RuleAttributes = KeptOf<typeof RULE_FIELDS>
export type NewRule = NewRow<
  RuleAttributes,
  'domainId' | 'position' | 'pattern' | 'destination' | 'status' | 'createdAt' | 'updatedAt'
>

// eslint-disable-next-line @typescript-eslint/no-unsafe-declaration-merging, @typescript-eslint/no-empty-object-type
export interface RuleModel extends RuleAttributes {}
// eslint-disable-next-line @typescript-eslint/no-unsafe-declaration-merging
export class RuleModel extends Model<RuleAttributes, NewRule> {
  declare id: CreationOptional<number>
}

export function defineRule(sequelize: Sequelize): typeof RuleModel {
  return RuleModel.init(attributesOf(RULE_FIELDS) as never, { sequelize, tableName: 'rule', modelName: 'Rule' })
}
