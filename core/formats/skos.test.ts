import { describe, expect, test } from '@jest/globals'
import { asTurtle, asXml, thesaurus } from '../../standins/thesaurus'
import { readVocabulary, type Vocabulary } from './skos'

const PREFIXES = `@prefix skos: <http://www.w3.org/2004/02/skos/core#> .
@prefix xl: <http://www.w3.org/2008/05/skos-xl#> .
@prefix thes: <http://purl.org/iso25964/skos-thes#> .
@prefix owl: <http://www.w3.org/2002/07/owl#> .
@prefix dct: <http://purl.org/dc/terms/> .
@prefix rdf: <http://www.w3.org/1999/02/22-rdf-syntax-ns#> .
@prefix v: <http://words.example/> .
`
const read = (turtle: string): Promise<Vocabulary> => readVocabulary(PREFIXES + turtle)
/** What a vocabulary says, by names. */
const said = ({ concepts }: Vocabulary) =>
  Object.fromEntries(
    concepts.map(c => {
      const names = (places: readonly number[]) => places.map(p => concepts[p]!.labels[0]!.text).sort()
      return [
        c.labels[0]!.text,
        { broader: names(c.broader), narrower: names(c.narrower), related: names(c.related) },
      ] as const
    }),
  )

describe('a vocabulary', () => {
  test('is the same in Turtle and in RDF/XML, whichever side tells a relation', async () => {
    const words = thesaurus().slice(0, 400)
    const [turtle, xml] = await Promise.all([readVocabulary(await asTurtle(words)), readVocabulary(asXml(words))])
    expect(turtle.concepts).toHaveLength(400)
    expect(said(xml)).toEqual(said(turtle))
    expect([turtle.name, xml.name]).toEqual(['Words of Town and Nature', undefined])
  })

  test('tells names in all languages; of two that claim to be the name in one, the first is', async () => {
    const { concepts } = await read(
      'v:a a skos:Concept; skos:prefLabel "moths"@en, "lampflies"@en, "Nachtfalter"@de, "夜蛾"@zh-Hans; skos:altLabel "  night\\n flyers"@EN, "moths"@en; skos:hiddenLabel "mohts" .',
    )
    expect(concepts[0]!.labels).toEqual([
      { text: 'moths', language: 'en', as: 'preferred' },
      { text: 'lampflies', language: 'en', as: 'other' },
      { text: 'Nachtfalter', language: 'de', as: 'preferred' },
      { text: '夜蛾', language: 'zh-hans', as: 'preferred' },
      { text: 'night flyers', language: 'en', as: 'other' },
      { text: 'mohts', as: 'hidden' },
    ])
  })

  test('has labels that are things of their own, and notes in a node', async () => {
    const { concepts } = await read(`
      v:a a skos:Concept; xl:prefLabel [ xl:literalForm "street lighting"@en ]; skos:definition [ rdf:value "Light for roads."@en ] .
      v:b a skos:Concept; skos:prefLabel "lamps"; skos:note "Old."; skos:scopeNote "Lampen"@de, "For devices."@en .`)
    expect(concepts.map(c => [c.labels[0]!.text, c.note])).toEqual([
      ['street lighting', 'Light for roads.'],
      ['lamps', 'For devices.'],
    ])
  })

  test('has relations of all kinds; those over many steps count only where no other is told', async () => {
    const vocabulary = await read(`
      v:a a skos:Concept; skos:prefLabel "animals" .
      v:b a skos:Concept; skos:prefLabel "insects"; thes:broaderGeneric v:a .
      v:c a skos:Concept; skos:prefLabel "moths"; skos:broader v:b; skos:broaderTransitive v:a; skos:closeMatch v:d .
      v:d a skos:Concept; skos:prefLabel "butterflies"; skos:broaderTransitive v:b; skos:related v:d .`)
    expect(said(vocabulary)).toEqual({
      animals: { broader: [], narrower: ['insects'], related: [] },
      insects: { broader: ['animals'], narrower: ['butterflies', 'moths'], related: [] },
      moths: { broader: ['insects'], narrower: [], related: ['butterflies'] },
      butterflies: { broader: ['insects'], narrower: [], related: ['moths'] },
    })
  })

  test('that runs in a circle, names what is retired, and counts what is not shown', async () => {
    const vocabulary = await read(`
      v:s a skos:ConceptScheme; dct:title "Lampen"@de, "Lamps"@en .
      v:a a skos:Concept; skos:prefLabel "lamps"; skos:broader v:b .
      v:b a skos:Concept; skos:prefLabel "lights"; skos:broader v:a, <http://elsewhere.example/x> .
      v:c a skos:Concept; skos:prefLabel "lanthorns"; owl:deprecated true; dct:isReplacedBy v:a .
      v:d a skos:Concept .
      v:e a skos:Concept; skos:prefLabel "${'x'.repeat(201)}" .
      v:g a skos:Collection; skos:prefLabel "by light"; skos:member v:a .`)
    expect(vocabulary.name).toBe('Lamps')
    expect(said(vocabulary).lamps).toEqual({ broader: ['lights'], narrower: ['lights'], related: [] })
    expect(vocabulary.concepts[2]!.retired).toEqual([0])
    expect(vocabulary.left).toEqual([
      { said: 'concepts without a label', times: 2 },
      { said: 'labels of more than 200 letters', times: 1 },
      { said: 'relations to concepts that are not in the file', times: 1 },
      { said: 'groups of concepts', times: 1 },
    ])
  })

  test('whose file breaks off or goes wrong is read up to there, and the place is said', async () => {
    const turtle = await read('v:a a skos:Concept; skos:prefLabel "moths" .\nv:b a skos:Concept; skos:prefLabel "ba')
    expect(turtle.concepts).toHaveLength(1)
    expect(turtle.left[0]!.said).toMatch(/line 9\. What stands behind it was not read\.$/)
    const xml = asXml(thesaurus().slice(0, 50))
    const cut = await readVocabulary(xml.slice(0, 6000))
    expect(cut.concepts.length).toBeGreaterThan(5)
    expect(cut.left[0]!.said).toBe('The file ends in the middle. What stands behind it was not read.')
  })

  test.each([
    ['a page', '\n<!doctype html><html lang="en"><body>Sign in</body></html>', 'a page of the web'],
    ['JSON-LD', '{"@context": {}, "@graph": []}', 'Bring the vocabulary as Turtle or RDF/XML'],
    ['a letter', 'Dear librarian,', 'no vocabulary in SKOS'],
    ['nothing', '', 'no concept in SKOS'],
    ['other statements', '<urn:a> <urn:b> "c" .', 'no concept in SKOS'],
  ])('%s is none', async (_, text, why) => {
    await expect(readVocabulary(text)).rejects.toThrow(why)
  })

  test('names in an entity that the file declares are names; what would be fetched or grow is not', async () => {
    const doc = (declared: string, label: string) =>
      `<?xml version="1.0"?><!DOCTYPE rdf:RDF [<!ENTITY skos "http://www.w3.org/2004/02/skos/core#">${declared}]>
      <rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#" xmlns:skos="&skos;"><skos:Concept rdf:about="urn:a"><skos:prefLabel>${label}</skos:prefLabel></skos:Concept></rdf:RDF>`
    const label = async (declared: string, text: string) =>
      (await readVocabulary(doc(declared, text))).concepts[0]!.labels[0]!.text
    expect(await label('', 'Moths &amp; lamps')).toBe('Moths & lamps')
    const grows = Array.from({ length: 20 }, (_, i) => `<!ENTITY e${i + 1} "&e${i};&e${i};&e${i};">`).join('')
    expect((await label(`<!ENTITY e0 "ha">${grows}`, '&e20;')).length).toBeLessThan(50)
    expect(await label('<!ENTITY f SYSTEM "file:///etc/hostname">', '&f;')).toBe('&f;')
  })
})
