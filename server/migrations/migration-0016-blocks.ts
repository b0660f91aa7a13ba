/** Records meet by a long title alone now, and by a word where nobody is named: all blocks anew. */
export const blocks: string[] = ['DELETE FROM blocks']
