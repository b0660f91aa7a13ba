import './setup'
import { boolean, object, string } from 'yup'
import { SCHEMAS } from '../formats/records'

/** A catalogue as it is described by data: where it is asked, and how its records are read. */
export const catalogueShape = object({
  id: string()
    .matches(/^[a-z][a-z0-9-]*$/, 'Small letters, digits and hyphens, beginning with a letter.')
    .required('What it is told by: shelf, say.'),
  name: string().trim().max(200).required('The name of the catalogue.'),
  /** Where it is searched (SRU); or where it is harvested (OAI-PMH), since it cannot be searched. */
  sru: string().trim().max(500),
  oai: string().trim().max(500),
  /** The set of a repository that is harvested; without it all of it. */
  set: string().trim().max(200),
  schema: string().oneOf(SCHEMAS).required(),
  /** Whether its records name copies open to all. */
  openCopies: boolean().default(false),
}).test(
  'one way',
  'A catalogue has an address to search (sru) or to harvest (oai), and one of the two.',
  x => Boolean(x.sru) !== Boolean(x.oai),
)
