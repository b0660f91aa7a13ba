/** What each subject is called in other languages, in the order de, fr, es, sv, ja, ru. */
const CALLED = new Map(
  `
lamps and night pollinators | Nachtfalter an den Laternen | les papillons de nuit et l’éclairage public | las polillas y las farolas | nattfjärilar vid gatlyktor | 街路灯と夜行性昆虫 | ночные бабочки у фонарей
lamps and insects in the country | Insekten an Lampen im Freiland | les insectes des champs et les lampes | los insectos del campo y las lámparas | insekter vid lampor på landet | 農村の灯火と昆虫 | насекомые у ламп в полях
moths | Schwärmer und Eulenfalter | les sphinx et les noctuelles | los esfíngidos y los noctuidos | svärmare och nattflyn | スズメガとヤガ | бражники и совки
pollination | Bestäubung und Blütenbesuch | la pollinisation et les visites des fleurs | la polinización y las visitas florales | pollination och blombesök | 送粉と訪花 | опыление и посещение цветков
nature in towns | Stadtnatur und Gärten | la nature en ville et les jardins | la naturaleza urbana y los jardines | stadens natur och trädgårdar | 都市の自然と庭園 | городская природа и сады
lighting policy | Straßenbeleuchtung als kommunale Aufgabe | la politique de l’éclairage municipal | la política del alumbrado municipal | kommunal belysningspolitik | 自治体の照明政策 | муниципальная политика освещения
sleep and shift work | Schlaf und Schichtarbeit | le sommeil et le travail posté | el sueño y el trabajo por turnos | sömn och skiftarbete | 睡眠と交替勤務 | сон и сменная работа
light and disease | Licht und Erkrankungen | la lumière et les maladies | la luz y las enfermedades | ljus och sjukdom | 光と疾患 | свет и заболевания
bats | Fledermäuse an Quartieren und Flugwegen | les chauves-souris et leurs gîtes | los murciélagos y sus refugios | fladdermöss och deras flygvägar | コウモリの採餌とねぐら | летучие мыши и их убежища
glowing beetles | Glühwürmchen und ihr Leuchten | les vers luisants et leur lueur | las luciérnagas y su brillo | lysmaskar och deras sken | ホタルの発光 | светляки и их свечение
birds and light | Vögel und künstliches Licht | les oiseaux et la lumière artificielle | las aves y la luz artificial | fåglar och artificiellt ljus | 鳥類と人工光 | птицы и искусственный свет
sky brightness | Himmelshelligkeit bei Nacht | la brillance du ciel nocturne | el brillo del cielo nocturno | natthimlens ljusstyrka | 夜空の明るさ | яркость ночного неба
lamp engineering | Leuchten und ihre Lebensdauer | les luminaires et leur durée de vie | las luminarias y su vida útil | armaturer och deras livslängd | 照明器具の寿命 | светильники и срок их службы
small boats | Jollen und Tragflächen | les dériveurs et les foils | los botes ligeros y sus alas | jollar och bärplan | 小型艇の水中翼 | малые лодки и крылья
bat and ball | Schlagholz und Ball | la batte et la balle | el bate y la pelota | slagträ och boll | バットとボール | бита и мяч
pollination of ideas | Austausch von Ideen in Betrieben | la circulation des idées dans les entreprises | el intercambio de ideas en las empresas | idéers spridning i företag | 企業における知識の交流 | обмен идеями на предприятиях
light materials | Leichte Werkstoffe | les matériaux légers | los materiales ligeros | lätta material | 軽量材料 | лёгкие материалы
history of lighting | Lampen und Nacht in früherer Zeit | les lanternes et la nuit d’autrefois | los faroles y la noche de antaño | lyktor och natt i äldre tid | 灯火と夜の歴史 | фонари и ночь в прошлом
orchard pests | Obstschädlinge | les ravageurs des vergers | las plagas de los frutales | skadedjur i fruktodlingar | 果樹害虫 | вредители садов
`
    .trim()
    .split('\n')
    .map(line => line.split(' | '))
    .map(([subject, ...names]) => [subject!, names]),
)
const upper = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1)

const LANGUAGES = ['de', 'fr', 'es', 'sv', 'ja', 'ru'] as const
export type Foreign = (typeof LANGUAGES)[number]

const TITLES: Record<Foreign, readonly ((what: string, town: string, n: number) => string)[]> = {
  de: [
    (x, t, n) => `${x}: Beobachtungen aus ${n} Wochen in ${t}`,
    (x, t) => `${x}: Ergebnisse aus ${t}`,
    (x, t) => `${x} um ${t}`,
  ],
  fr: [(x, t, n) => `${upper(x)} à ${t} : ${n} semaines d’observation`, (x, t) => `Sur ${x} aux environs de ${t}`],
  es: [(x, t, n) => `${upper(x)} en ${t}: ${n} semanas de muestreo`, (x, t) => `Sobre ${x} en ${t}`],
  sv: [(x, t, n) => `${upper(x)} i ${t} under ${n} veckor`, (x, t) => `Om ${x} kring ${t}`],
  ja: [(x, t, n) => `${t}における${x}：${n}週の調査`],
  ru: [(x, t, n) => `${upper(x)} (${t}): ${n} недель наблюдений`],
}

/** The ways a title of a subject may run in another language. @throws Error where the subject has no name there */
export function foreignTitles(subject: string, language: Foreign): ((town: string, n: number) => string)[] {
  const what = CALLED.get(subject)?.[LANGUAGES.indexOf(language)]
  if (!what) throw new Error(`${subject} has no name in ${language}`)
  return TITLES[language].map(title => (town, n) => title(what, town, n))
}
