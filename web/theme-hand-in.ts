const wide = '@media (min-width: 62rem)'

/** The look of handing in: the page as it stands, what is chosen of it beside. */
export const handIn = {
  '.hand-in': { flexDirection: 'column-reverse', [wide]: { flexDirection: 'row', height: 'full' } },
  '.hand-in-page': {
    flex: '1',
    minWidth: '0',
    display: 'flex',
    flexDirection: 'column',
    padding: '16px 24px',
    '& iframe': {
      flex: '1',
      width: 'full',
      minHeight: '70vh',
      border: '1px solid',
      borderColor: 'hair',
      // a sheet of paper stays white in the dark
      background: '#fff',
      colorScheme: 'light',
    },
  },
  '.hand-in-tools': { paddingTop: '10px' },
  '.hand-in-side': {
    flex: 'none',
    padding: '16px 24px 28px',
    fontSize: '13.5px',
    lineHeight: '20px',
    [wide]: { width: '424px', overflow: 'auto', borderInlineStart: '1px solid', borderColor: 'hair' },
  },
  '.hand-in-head': { fontFamily: 'serif', fontWeight: '600', fontSize: '21px', lineHeight: '28px', marginTop: '4px' },
  '.hand-in-part': {
    paddingBlock: '12px',
    '& + &': { borderTop: '1px solid', borderColor: 'hair' },
  },
  '.hand-in-title': { fontWeight: '600', fontSize: '14px', marginBottom: '6px' },
  '.hand-in-note': { color: 'soft', fontSize: '13px', lineHeight: '19px' },
  '.formats': {
    display: 'grid',
    gridTemplateColumns: '1fr 1fr',
    gap: '2px 12px',
    marginBottom: '6px',
    '& label': { display: 'flex', gap: '7px', alignItems: 'center', cursor: 'pointer', paddingBlock: '2px' },
    '& label[data-chosen]': { fontWeight: '600' },
    '& input': { accentColor: 'var(--chakra-colors-vine)' },
  },
  '.hand-in-side .tick': { display: 'inline-flex', gap: '6px', alignItems: 'center', cursor: 'pointer' },
  '.hand-in-side input[type=checkbox]': { accentColor: 'var(--chakra-colors-vine)' },
  '.citations li': { listStyle: 'none', '& span': { color: 'soft' } },
  '.versions li': {
    listStyle: 'none',
    paddingBlock: '8px',
    '& + li': { borderTop: '1px solid', borderColor: 'hair2' },
    '& b': { fontWeight: '600' },
  },
  '.version-now': { color: 'vine', fontWeight: '600', marginInlineStart: '8px' },
  '.changes li': { listStyle: 'none', paddingBlock: '10px', '& + li': { borderTop: '1px solid', borderColor: 'hair' } },
  '.pieces': {
    fontFamily: 'serif',
    fontSize: '14.5px',
    lineHeight: '22px',
    whiteSpace: 'pre-wrap',
    overflowWrap: 'anywhere',
    '& del': { color: 'rust', textDecorationThickness: '1.5px' },
    '& ins': { color: 'vine', textDecorationThickness: '1.5px', textUnderlineOffset: '3px' },
  },
}
