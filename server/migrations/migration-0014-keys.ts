/** The keys under which records meet are made of other things now (bodies, short titles, soft hyphens): all anew. */
export const keys: string[] = ['DELETE FROM blocks']
