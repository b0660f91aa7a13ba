import AxeBuilder from '@axe-core/playwright'
import { expect, type Page } from '@playwright/test'
import { inMode } from './desk'

/** The rules of WCAG 2.2 to its level AA. */
export const WCAG = ['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa']

interface Looked {
  /** Only what stands in it. */
  within?: string
  /** All but what stands in it. */
  without?: string
  tags?: string[]
  rules?: string[]
}

/** Fails where what is shown breaks a rule of accessibility: each is told with where it is broken. */
export async function isAccessible(page: Page, { within, without, tags, rules }: Looked = {}): Promise<void> {
  const axe = new AxeBuilder({ page })
    // without a second page to gather what frames say: what stands in a frame is looked at as a page of its own
    .setLegacyMode()
    // what is right need not be described
    .options({ resultTypes: ['violations'] })
  if (within) axe.include(within)
  if (without) axe.exclude(without)
  if (tags) axe.withTags(tags)
  if (rules) axe.withRules(rules)
  const { violations } = await axe.analyze()
  expect(violations.map(v => `${v.id}: ${v.nodes.map(n => n.target.join(' ')).join(' | ')}`)).toEqual([])
}

/** The same in light and in dark, where the same elements stand on the page: only their colours are others. */
export async function isAccessibleInBothModes(
  page: Page,
  looked: Looked = {},
  eachMode: () => Promise<void> = async () => undefined,
): Promise<void> {
  for (const mode of ['light', 'dark'] as const) {
    await inMode(page, mode)
    await eachMode()
    await isAccessible(
      page,
      mode === 'light' ? looked : { ...looked, rules: ['color-contrast', 'link-in-text-block'], tags: undefined },
    )
  }
}
