import { DataTypes, type ModelAttributes } from 'sequelize'
import { columnOf, type ColumnType, type Field } from '../../core/rows'

/** Compares octet for octet, unpadded: slugs, hosts, keys. Sequelize takes the column type as text. */
export const EXACT_TEXT = (length: number) => `VARCHAR(${length}) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin`

const TYPES: Record<ColumnType['as'], (type: never) => string | object> = {
  id: () => DataTypes.BIGINT.UNSIGNED,
  reference: () => DataTypes.BIGINT.UNSIGNED,
  status: () => DataTypes.SMALLINT.UNSIGNED,
  count: () => DataTypes.INTEGER.UNSIGNED,
  flag: () => DataTypes.BOOLEAN,
  moment: () => DataTypes.DATE(3),
  text: () => DataTypes.TEXT,
  json: () => DataTypes.JSON,
  decimal: () => DataTypes.DECIMAL(10, 2),
  string: ({ length }: { length: number }) => DataTypes.STRING(length),
  exact: ({ length }: { length: number }) => EXACT_TEXT(length),
  enum: ({ values }: { values: readonly string[] }) => DataTypes.ENUM(...values),
}

/** A model's attributes, as the row is described in core/rows. Big numbers come back as numbers. */
export function attributesOf(fields: object): ModelAttributes {
  return Object.fromEntries(
    Object.entries(fields as Record<string, Field>).map(([name, { type, nullable, fallback }]) => [
      name,
      {
        type: TYPES[type.as](type as never) as string,
        field: columnOf(fields, name),
        allowNull: nullable,
        ...(type.as === 'id' && { primaryKey: true, autoIncrement: true }),
        ...(fallback !== undefined && fallback !== null && { defaultValue: fallback }),
      },
    ]),
  )
}
