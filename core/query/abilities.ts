/** What a catalogue can be asked, as its `explain` answer says. */
export interface Abilities {
  /** Index names in our words; undefined where the catalogue did not say. */
  indexes?: readonly string[]
  truncation: boolean
  proximity: boolean
  /** Whether it tells the words of its dictionary. */
  scan?: boolean
  /** Indexes by whose values it can count an answer. */
  facets?: readonly string[]
  /** Records that it gives at once at most. */
  atOnce?: number
  /** The last record position the catalogue serves. */
  window?: number
}
