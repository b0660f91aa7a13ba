/** Who passed a copy on: only they keep it to themselves again. Of what was passed on before, it is not known. */
export const passedOn: string[] = [
  'ALTER TABLE copy_rights ADD COLUMN IF NOT EXISTS by_user INT UNSIGNED NULL AFTER source',
]
