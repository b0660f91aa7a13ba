import { createSystem, defaultConfig, defineConfig } from '@chakra-ui/react'

const both = (light: string, dark: string) => ({ value: { _light: light, _dark: dark } })
const voice = (fg: [string, string], soft: [string, string], line: [string, string], solid: [string, string]) => ({
  DEFAULT: both(...fg),
  soft: both(...soft),
  line: both(...line),
  solid: both(...solid),
  contrast: both('#FFFFFF', '#FFFFFF'),
  fg: both(...fg),
  muted: both(...soft),
  subtle: both(...soft),
  emphasized: both(...line),
  focusRing: both(...fg),
})

/** Paper, ink and vine: every colour, letter and radius of the application. */
export const system = createSystem(
  defaultConfig,
  defineConfig({
    globalCss: {
      'html, body, #root': { height: '100%' },
      body: {
        bg: 'paper',
        color: 'ink',
        fontFamily: 'body',
        fontSize: '15px',
        lineHeight: '22px',
        fontFeatureSettings: '"tnum" 1',
      },
      a: { color: 'inherit' },
      'h1, h2, h3': { fontWeight: '600' },
      mark: { bg: 'tint.a', color: 'inherit', borderRadius: '2px', px: '1px' },
      'mark[data-tint="1"]': { bg: 'tint.b' },
      'mark[data-tint="2"]': { bg: 'tint.c' },
      '*:focus-visible': { outline: '2px solid', outlineColor: 'vine', outlineOffset: '2px' },
      '*': { _motionReduce: { animationDuration: '0s !important', transitionDuration: '0s !important' } },
    },
    theme: {
      tokens: {
        fonts: {
          body: { value: "'Public Sans Variable', sans-serif" },
          heading: { value: "'Literata Variable', serif" },
          serif: { value: "'Literata Variable', serif" },
        },
        radii: {
          sm: { value: '3px' },
          md: { value: '4px' },
          lg: { value: '4px' },
          l1: { value: '3px' },
          l2: { value: '4px' },
          l3: { value: '4px' },
        },
      },
      semanticTokens: {
        colors: {
          paper: both('#FAF7F0', '#191C1A'),
          surface: both('#FFFFFF', '#212522'),
          ink: both('#1F2430', '#E8E5DB'),
          soft: both('#5B6170', '#AAB0A8'),
          hair: both('#E4DED2', '#363C37'),
          hair2: both('#EFEADF', '#2B302C'),
          line: both('#8A8472', '#7E867E'),
          tint: { a: both('#F6E7B8', '#51461F'), b: both('#DCE9E0', '#27493A'), c: both('#EBDDEA', '#4A3450') },
          vine: voice(['#1F5F4B', '#86C6AB'], ['#E6EFE9', '#233A30'], ['#BFD6CA', '#3C6351'], ['#1F5F4B', '#2C7459']),
          grape: voice(['#6D3B6B', '#CFA2CD'], ['#F2E8F1', '#392A39'], ['#D9C3D8', '#64486A'], ['#6D3B6B', '#83507F']),
          amber: voice(['#9A5B00', '#E2AC62'], ['#FBF0DC', '#3A301D'], ['#E8CF9F', '#6B5529'], ['#8F5400', '#8F5D1A']),
          rust: voice(['#A8402C', '#EB9A84'], ['#F9E7E2', '#402A24'], ['#E7C0B6', '#754538'], ['#A8402C', '#A84F3B']),
          slate: voice(['#44607C', '#A3BAD2'], ['#E7EDF3', '#263240'], ['#C6D3E0', '#435568'], ['#44607C', '#4B6884']),
          bg: {
            DEFAULT: both('#FAF7F0', '#191C1A'),
            panel: both('#FFFFFF', '#212522'),
            subtle: both('#FAF7F0', '#191C1A'),
            muted: both('#EFEADF', '#2B302C'),
            emphasized: both('#E4DED2', '#363C37'),
          },
          fg: {
            DEFAULT: both('#1F2430', '#E8E5DB'),
            muted: both('#5B6170', '#AAB0A8'),
            subtle: both('#5B6170', '#AAB0A8'),
            error: both('#A8402C', '#EB9A84'),
          },
          border: { DEFAULT: both('#E4DED2', '#363C37'), error: both('#A8402C', '#EB9A84') },
        },
      },
    },
  }),
)
