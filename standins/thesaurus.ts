import { Router } from 'express'
import { DataFactory, Writer } from 'n3'

const SKOS = 'http://www.w3.org/2004/02/skos/core#'
const BASE = 'http://thesaurus.example/'

interface Word {
  id: string
  /** Its name, and what else it is called. */
  name: string
  others: string[]
  german?: string
  above?: string
  beside: string[]
  note?: string
}

/**
 * Words by hand, a line each: its depth by the spaces before it, what else it is called behind `=`, its German name
 * behind `@`, what it goes with behind `~`, what it is meant for behind `#`.
 */
const BY_HAND = `
Living things @ Lebewesen
 animals = fauna @ Tiere
  insects = hexapods @ Insekten
   Lepidoptera = scaled insects @ Schmetterlinge
    moths = night-flying Lepidoptera = nocturnal Lepidoptera @ Nachtfalter ~ phototaxis ~ nocturnal pollination # Lepidoptera that fly at night or at dusk; for those that fly by day see butterflies.
     hawkmoths = Sphingidae = sphinx moths @ Schwärmer
     owlet moths = Noctuidae = noctuid moths @ Eulenfalter
     geometer moths = Geometridae @ Spanner
     tiger moths = Arctiinae @ Bärenspinner
    butterflies @ Tagfalter
   caddisflies = Trichoptera @ Köcherfliegen
   mayflies = Ephemeroptera @ Eintagsfliegen
   beetles = Coleoptera @ Käfer
    ground beetles = Carabidae @ Laufkäfer
    fireflies = Lampyridae = glow-worms @ Leuchtkäfer ~ bioluminescence
   flies = Diptera @ Zweiflügler
    hoverflies = Syrphidae @ Schwebfliegen
   bees @ Bienen ~ pollination
    bumblebees = Bombus @ Hummeln
   wasps @ Wespen
   aphids = plant lice @ Blattläuse
  spiders = Araneae @ Webspinnen
  bats = Chiroptera @ Fledermäuse ~ street lighting
   pipistrelles @ Zwergfledermäuse
   horseshoe bats @ Hufeisennasen
  birds = Aves @ Vögel
   owls = Strigiformes @ Eulen
   songbirds = passerines @ Singvögel
   seabirds @ Seevögel
  fish @ Fische
   salmon @ Lachse
   eels @ Aale
  amphibians @ Amphibien
   frogs @ Frösche
   newts @ Molche
  mammals @ Säugetiere
   hedgehogs @ Igel
   dormice @ Bilche
   deer @ Hirsche
  snails = Gastropoda @ Schnecken
  earthworms @ Regenwürmer
 plants = flora @ Pflanzen
  trees @ Bäume
   street trees @ Straßenbäume
   oaks @ Eichen
   limes (trees) @ Linden
  wildflowers @ Wildblumen
   night-scented plants @ Nachtduftpflanzen ~ nocturnal pollination
  grasses @ Gräser
  mosses @ Moose
  crops @ Nutzpflanzen
   cereals @ Getreide
   orchard fruit @ Obst
 fungi @ Pilze
 algae @ Algen
Light @ Licht
 artificial light = man-made light @ Kunstlicht
  artificial light at night = ALAN = night-time lighting @ Kunstlicht bei Nacht ~ light pollution ~ moths # Light made by people between dusk and dawn, whatever its source.
   light pollution = luminous pollution @ Lichtverschmutzung ~ sky glow
    sky glow = skyglow = skyward light @ Himmelsglühen
    light trespass @ Raumaufhellung
    glare @ Blendung
   street lighting = road lighting = public lighting = lighting of streets @ Straßenbeleuchtung ~ towns ~ bats
    part-night lighting = dimmed lighting = lighting switched off at midnight @ Teilnachtschaltung
    motion-controlled lighting @ bewegungsgesteuerte Beleuchtung
    shielded lighting @ abgeschirmte Beleuchtung
   floodlighting @ Flutlicht
   indoor lighting @ Innenbeleuchtung
  lamps = luminaires @ Lampen
   light-emitting diodes = LED = LED lamps = solid-state lighting @ Leuchtdioden
    white LED @ weiße Leuchtdioden
    amber LED @ bernsteinfarbene Leuchtdioden
   sodium lamps = sodium-vapour lamps @ Natriumdampflampen
   mercury lamps = mercury-vapour lamps @ Quecksilberdampflampen
   gas lamps @ Gaslaternen
 natural light @ natürliches Licht
  moonlight @ Mondlicht
  starlight @ Sternenlicht
  twilight = dusk and dawn @ Dämmerung
  bioluminescence @ Biolumineszenz
 darkness @ Dunkelheit
  dark corridors = unlit corridors @ Dunkelkorridore ~ connectivity of habitats
Behaviour @ Verhalten
 orientation @ Orientierung
  phototaxis = flight to light = attraction to light @ Phototaxis ~ moths
  echolocation @ Echoortung ~ bats
 foraging = feeding behaviour @ Nahrungssuche
 migration = seasonal movement @ Wanderung
 daily rhythms = circadian rhythms = time of activity @ Tagesrhythmen
Interactions of species @ Beziehungen zwischen Arten
 pollination @ Bestäubung
  nocturnal pollination = night pollination = pollination by moths @ nächtliche Bestäubung ~ moths ~ night-scented plants
  pollen transport = pollen load @ Pollentransport
  seed set = fruit set @ Samenansatz
 predation @ Prädation
 parasitism @ Parasitismus
Places @ Orte
 habitats @ Lebensräume
  connectivity of habitats = ecological networks @ Vernetzung von Lebensräumen
  meadows = grassland @ Wiesen
  forests = woodland @ Wälder
  hedges = hedgerows @ Hecken
  rivers = streams @ Flüsse
  lakes @ Seen
  coasts = shores @ Küsten
  caves @ Höhlen
 settlements @ Siedlungen
  towns = cities = urban areas @ Städte ~ street lighting ~ urban ecology
   suburbs = residential areas @ Vororte
   gardens = back gardens @ Gärten
   parks = public green spaces @ Parks
   road verges = roadsides @ Straßenränder
   cemeteries = churchyards @ Friedhöfe
  villages @ Dörfer
  harbours @ Häfen
 farmland = agricultural land @ Ackerland
 islands @ Inseln
Fields of study @ Forschungsgebiete
 ecology @ Ökologie
  urban ecology = ecology of cities @ Stadtökologie
  community ecology @ Synökologie
 conservation = nature conservation @ Naturschutz
 monitoring = surveillance of species @ Überwachung
  light traps = moth traps @ Lichtfallen ~ moths
  records of volunteers = citizen records @ Beobachtungen von Freiwilligen
`
/** What is studied of living things, places and lamps: each with each is a word of its own. */
const ASPECTS = {
  'Living things':
    'abundance; behaviour; breeding; conservation; diet; diseases; dispersal; distribution; diversity; genetics; habitats; migration; monitoring; mortality; parasites; physiology; population decline; roosts and nests; taxonomy; vision',
  Places:
    'biodiversity; climate; flooding; history; lighting; management; noise; planning; pollution; restoration; soils; vegetation; visitors; wildlife',
  Light:
    'costs; effects on animals; effects on plants; effects on sleep; energy use; glare; history; measurement; planning; policy; public opinion; safety; spectrum; technology',
  'Fields of study': 'data; education; funding; history; law; methods; models; policy; statistics; theory',
  Behaviour: 'disturbance; evolution; measurement; models; seasonality; development',
  'Interactions of species': 'decline; evolution; measurement; networks; restoration; services; timing',
}

const idOf = (name: string): string => name.toLowerCase().replace(/[^a-z]+/g, '-')

/** The made-up thesaurus of towns and nature: some two thousand words. */
export function thesaurus(): Word[] {
  const out: Word[] = []
  const path: Word[] = []
  for (const line of BY_HAND.split('\n').filter(l => l.trim())) {
    const depth = line.length - line.trimStart().length
    const [rest = '', note] = line.trim().split(' # ')
    const parts = rest.split(/ (?=[=@~] )/)
    const marked = (mark: string): string[] => parts.filter(p => p.startsWith(`${mark} `)).map(p => p.slice(2))
    const name = parts[0]!
    const [german] = marked('@')
    const above = path[depth - 1]?.id
    const word: Word = {
      ...{ id: idOf(name), name, others: marked('='), beside: marked('~').map(idOf) },
      ...(german ? { german } : {}),
      ...(above ? { above } : {}),
      ...(note ? { note } : {}),
    }
    path.splice(depth, path.length, word)
    out.push(word)
    const aspects = ASPECTS[path[0]!.name as keyof typeof ASPECTS]
    if (depth)
      for (const aspect of aspects.split('; ')) {
        const own = `${name}: ${aspect}`
        out.push({ id: idOf(own), name: own, others: [`${aspect} of ${name}`], above: word.id, beside: [] })
      }
  }
  return out
}

/** As Turtle. */
export function asTurtle(words: readonly Word[]): Promise<string> {
  const { namedNode, literal } = DataFactory
  const node = (id: string) => namedNode(BASE + id)
  const skos = (name: string) => namedNode(SKOS + name)
  const writer = new Writer({ prefixes: { skos: SKOS, w: BASE, dct: 'http://purl.org/dc/terms/' } })
  const say = (id: string, what: string, of: ReturnType<typeof literal> | ReturnType<typeof namedNode>) =>
    writer.addQuad(node(id), skos(what), of)
  const type = namedNode('http://www.w3.org/1999/02/22-rdf-syntax-ns#type')
  writer.addQuad(node('scheme'), type, skos('ConceptScheme'))
  writer.addQuad(node('scheme'), namedNode('http://purl.org/dc/terms/title'), literal('Words of Town and Nature', 'en'))
  for (const w of words) {
    writer.addQuad(node(w.id), type, skos('Concept'))
    say(w.id, 'inScheme', node('scheme'))
    say(w.id, 'prefLabel', literal(w.name, 'en'))
    if (w.german) say(w.id, 'prefLabel', literal(w.german, 'de'))
    for (const o of w.others) say(w.id, 'altLabel', literal(o, 'en'))
    if (w.above) say(w.id, 'broader', node(w.above))
    for (const b of w.beside) say(w.id, 'related', node(b))
    if (w.note) say(w.id, 'scopeNote', literal(w.note, 'en'))
  }
  return new Promise((done, fail) => writer.end((e: Error | null, text: string) => (e ? fail(e) : done(text))))
}

const escaped = (s: string): string => s.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;')

/** As RDF/XML, each relation told from above. */
export function asXml(words: readonly Word[]): string {
  const about = (w: Word): string =>
    [
      `<skos:Concept rdf:about="${BASE}${w.id}">`,
      `<skos:prefLabel xml:lang="en">${escaped(w.name)}</skos:prefLabel>`,
      ...(w.german ? [`<skos:prefLabel xml:lang="de">${escaped(w.german)}</skos:prefLabel>`] : []),
      ...w.others.map(o => `<skos:altLabel xml:lang="en">${escaped(o)}</skos:altLabel>`),
      ...words.filter(n => n.above === w.id).map(n => `<skos:narrower rdf:resource="${BASE}${n.id}"/>`),
      ...w.beside.map(b => `<skos:related rdf:resource="${BASE}${b}"/>`),
      ...(w.note ? [`<skos:scopeNote xml:lang="en">${escaped(w.note)}</skos:scopeNote>`] : []),
      '</skos:Concept>',
    ].join('\n')
  return [
    '<?xml version="1.0" encoding="UTF-8"?>',
    `<rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#" xmlns:skos="${SKOS}">`,
    ...words.map(about),
    '</rdf:RDF>',
    '',
  ].join('\n')
}

/** A thesaurus as its makers offer it, in both forms. */
export function thesaurusSite(): Router {
  const words = thesaurus()
  return Router()
    .get('/words.ttl', async (_req, res) => {
      res.type('text/turtle; charset=utf-8').send(await asTurtle(words))
    })
    .get('/words.rdf', (_req, res) => {
      res.type('application/rdf+xml; charset=utf-8').send(asXml(words))
    })
}
