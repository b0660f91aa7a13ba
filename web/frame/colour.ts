/** A colour of the theme for drawings, which know no style props. @example colour('vine.soft') */
export const colour = (name: string): string => `var(--chakra-colors-${name.replace('.', '-')})`
