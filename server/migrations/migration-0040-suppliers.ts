/** Requests remember which partners had what was asked for. */
export const suppliers = ['ALTER TABLE loans ADD COLUMN IF NOT EXISTS suppliers JSON NULL AFTER any_edition']
