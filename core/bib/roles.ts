import { withoutEnd } from './clean'
import { fold } from './fold'

/** The variables of CSL that hold names, as far as records fill them. */
export const ROLES = [
  'author',
  'editor',
  'translator',
  'illustrator',
  'compiler',
  'composer',
  'director',
  'performer',
  'narrator',
  'interviewer',
  'collection-editor',
  'contributor',
] as const
export type Role = (typeof ROLES)[number]

/** Codes of the relator list (MARC), and how catalogues of some tongues word the roles, folded. */
const SAID: [Role, RegExp][] = [
  ['collection-editor', /^(series editor|pbd$|directeurs? de collection|reihenherausgeber)/],
  ['translator', /^(trl$|translat|trans\.?$|transl\b|ubers|traduct|tradutt|traduz|trad\b|vertal|overs|oversett|kaant|kaannos|tlum|preklad|forditott|perevod|перев)/],
  ['illustrator', /^(ill$|illustr|ilustr|ill\.|tecknare|kuvit|il\.|иллюстр)/],
  ['editor', /^(edt$|ed$|eds$|edc$|pbl-ed$|edit|edd?\.|eds\.|red$|hrsg|hg\b|hgg|herausge|hrg|editeur scient|directeur de (la )?publ|sous la dir|dir\.|ed\. lit|a cura|a c\. di|curat|cur\.|redak|redig|red\.|redac|organizad|org\.?$|coord|toim|udg|utg|utgiv|szerk|pod red|uredni|ред)/],
  ['compiler', /^(com$|compil|comp\.|zusammengest|zsgest|bearb|recop|kokoaja)/],
  ['composer', /^(cmp$|compos|komponist|compositeur|tonsatt)/],
  ['director', /^(drt$|fmd$|film director|regis|realisat|regia|director$)/],
  ['performer', /^(prf$|sng$|mus$|act$|itr$|cnd$|perform|singer|musician|actor|interpr|sanger|dirigent)/],
  ['narrator', /^(nrt$|narrat|erzahler|sprecher)/],
  ['interviewer', /^(ivr$|interviewer)/],
  ['author', /^(aut$|cre$|dis$|author|autor|auteur|auctor|verf|creator|urheber|forfat|forf\b|kirjoitt|szerzo|writer|joint author|by$|dissertant|respondent$|pht$|art$|photograph|artist|cartograph|ctg$|inv$|invent|ive$|interviewee|автор|著)/],
] // prettier-ignore

/** Those who had to do with it and are not cited. */
const NOT_CITED =
  /^(pbl$|prt$|dst$|fnd$|spn$|ths$|dgs$|dgg$|rev$|opn$|csp$|own$|dnr$|fmo$|his$|isb$|dto$|rcp$|asn$|oth$|publisher|verlag|printer|drucker|degree|thesis advis|supervis|betreuer|gutachter|akadem|sponsor|funder|host inst|issuing|herausgebende|former owner|donor|distribut|dedicatee|adressat|reviewer|berichterst|praes|beitrager)/

/**
 * What somebody did, as catalogues say it by code, by address of a code, or in words; undefined where it is a part that
 * is not cited (advisers, publishers). Words nobody knows make a contributor.
 * @example roleOf('Verfasserin') // 'author'
 */
export function roleOf(said: string): Role | undefined {
  const bare = fold(said)
    .replace(/^.*\/(?=[a-z]{3}$)/, '')
    .replace(/[[\]()]/g, '')
  const word = withoutEnd(bare, /[,;:]/).trim()
  const known = SAID.find(([, is]) => is.test(word))?.[0]
  return known ?? (NOT_CITED.test(word) ? undefined : 'contributor')
}
