const wide = '@media (min-width: 48rem)'
const small = { fontSize: '12.5px', lineHeight: '17px', color: 'soft' }

/** The look of the choice of a citation style: the list of them, and three works as one prints them. */
export const styles = {
  '.style-name': { overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' },
  '.style-choice': {
    display: 'grid',
    gap: '24px',
    [wide]: { gridTemplateColumns: '340px minmax(0, 1fr)' },
  },
  '.style-words': {
    height: '36px',
    paddingInline: '12px',
    border: '1px solid',
    borderColor: 'hair',
    borderRadius: '4px',
    bg: 'surface',
    fontSize: '14px',
    width: '100%',
  },
  '.style-list': { height: '180px', overflowY: 'auto', padding: '0', [wide]: { height: '380px' } },
  '.style-item': {
    paddingBlock: '6px',
    paddingInline: '10px',
    borderBottom: '1px solid',
    borderColor: 'hair2',
    borderRadius: '0',
    cursor: 'pointer',
    '& b': { display: 'block', fontWeight: '600', fontSize: '13.5px', lineHeight: '18px', color: 'ink' },
    '& span': { display: 'block', ...small },
    '&[data-highlighted]': { bg: 'hair2' },
    '&[data-selected]': { bg: 'vine.soft' },
  },
  '.style-count': { ...small, marginTop: '6px', '&[role=alert]': { color: 'rust' } },
  '.style-sample': {
    '& h3': { fontFamily: 'serif', fontWeight: '600', fontSize: '17px', lineHeight: '24px' },
  },
  '.style-newer': {
    gap: '10px',
    marginTop: '8px',
    paddingInlineStart: '10px',
    borderInlineStart: '3px solid',
    borderColor: 'amber',
    fontSize: '13px',
    lineHeight: '18px',
  },
  '.style-entry': {
    position: 'relative',
    marginTop: '12px',
    fontFamily: 'serif',
    fontSize: '14.5px',
    lineHeight: '21px',
    overflowWrap: 'anywhere',
    '&[data-hanging]': { paddingInlineStart: '28px', textIndent: '-28px' },
    '&[data-label]': { paddingInlineStart: '36px', textIndent: '0' },
    '&[data-label]::before': { content: 'attr(data-label)', position: 'absolute', insetInlineStart: '0' },
  },
  '.style-language': { gap: '12px', alignItems: 'center', marginTop: '20px', ...small, '& select': { color: 'ink' } },
} as const
