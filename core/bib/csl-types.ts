/** The item types of CSL 1.0.2. */
export const CSL_TYPES = new Set(
  (
    'article article-journal article-magazine article-newspaper bill book broadcast chapter classic collection dataset ' +
    'document entry entry-dictionary entry-encyclopedia event figure graphic hearing interview legal_case legislation ' +
    'manuscript map motion_picture musical_score pamphlet paper-conference patent performance periodical ' +
    'personal_communication post post-weblog regulation report review review-book software song speech standard thesis ' +
    'treaty webpage'
  ).split(' '),
)
