/** The terms on which a scan was lent, as they were when it came. */
export const termsOfRights: string[] = ['ALTER TABLE copy_rights ADD COLUMN IF NOT EXISTS terms TEXT NULL AFTER until']
