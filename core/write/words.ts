/** Number of words as a reader counts them: runs of letters or digits; hyphens and apostrophes join. */
export function countWords(text: string): number {
  return (text.match(/[\p{L}\p{N}]+(?:[-'’.,][\p{L}\p{N}]+)*/gu) ?? []).length
}
