/** What making a row needs; all else has what the row is described with. */
export type NewRow<Attributes, Needed extends keyof Attributes> = Pick<Attributes, Needed> & Partial<Attributes>
