/**
 * What the made-up field of research speaks of. Words before a bar belong to the open half of the grammar, those
 * behind it to the held-back half, so that what learns from text can be measured on words it was not tuned to.
 */
export interface Subject {
  name: string
  field: string
  weight: number
  /** Its journals print nothing else. */
  narrow?: true
  /** Grows faster than research as a whole from this year on. */
  since: number
  things: string
  causes: string
  places: string
  measures: string
  methods: string
  keywords: string
  terms: string
  /** Phrases that journals of the subject are named after. */
  venueWords: string
}

export const SUBJECTS: Subject[] = [
  {
    name: 'lamps and night pollinators',
    field: 'Ecology',
    weight: 5.2,
    since: 1975,
    things:
      'moth visits to flowers; hawkmoth foraging; nocturnal pollinator networks; night-flying Lepidoptera; flight-to-light in moths; pollen transport by moths; moth assemblages; nocturnal pollination; seed set of night-scented plants; oviposition by hawkmoths; feeding by noctuid moths; the courtship of moths | moth traffic between flowers; hawkmoth hovering; the web of nocturnal flower visitors; Sphingidae at lamps; the pull of lamps on moths; pollen loads on settling moths; moth communities; pollination after dark; fruiting of evening-opening plants; egg laying by hawkmoths; nectar intake of moths; moth dispersal',
    causes:
      'street lighting; white LED lamps; part-night street lighting; artificial light at night; sky glow; warm LED retrofits; sodium street lamps; dimmed municipal lighting; light pollution; lit footpaths; shielded street lights; motion-controlled street lighting | roadside lighting; broad-spectrum LED street lights; switching street lights off at midnight; outdoor lighting at night; skyward light; amber LED lamps; mercury street lamps; lowered lamp output; stray light; garden lanterns; full cut-off lamps; adaptive street lighting',
    places:
      'urban gardens; city parks; residential streets; towns along a coast; municipal cemeteries; urban road verges; six small towns; dense cities; town greens; a harbour city; suburban back gardens | inner-city courtyards; urban commons; housing estates; municipal squares; a river town; urban churchyards; city tram lines; nine market towns; a growing city; suburban streets; school gardens in a city; urban waste ground',
    measures:
      'visits per flower; pollen load; species richness; seed set; time of activity; catch per trap; flower handling time; body mass; turnover between sites; the share of marked moths seen again | flower visits an hour; grains of pollen on the tongue; number of species; fruits per plant; hour of first flight; moths per night; time on the flower; wing loading; difference between nights; return rate',
    methods:
      'a paired before-and-after design; light traps run on moonless nights; infrared cameras; pollen metabarcoding; mark-release-recapture; transects at three times of night; a crossed field experiment; records of volunteers checked by specialists; potted plants set out at dusk; fluorescent dye as a stand-in for pollen | a before-after-control design; bait traps; thermal video; sequencing of pollen from tongues; numbered wing tags; timed walks after dark; a field trial with switched lamps; photographs sent in by residents; caged and open flowers; tracking by harmonic radar',
    keywords:
      'artificial light at night; street lighting; nocturnal pollinators; moths; part-night lighting; LED; light pollution; phototaxis; Sphingidae; Noctuidae; seed set; urban ecology; dark corridors; hawkmoths; pollen transport; gardens; city',
    terms: 'Lepidoptera; Phototaxis; Pollination; Street lighting; Urban ecology (Biology); Sphingidae',
    venueWords: 'Night Ecology; Dark Habitats; Lamp and Wing',
  },
  {
    name: 'lamps and insects in the country',
    field: 'Ecology',
    weight: 3.2,
    since: 1980,
    things:
      'moth abundance at field edges; caddisflies at lamps; ground beetles under lamps; parasitoid wasps; aphid colonies; mayfly swarms; predation by spiders; caterpillars in grassland | moth counts in hedges; lacewings near lamps; rove beetles under lamps; hoverfly larvae; plant lice; stonefly emergence; harvestmen at walls; larvae on meadow grasses',
    causes:
      'experimental lamp posts; artificial light at night; lit farmyards; floodlights of a ski slope; lighting of a motorway junction; skyglow from a distant city | test lamps on poles; night-time light; greenhouse lighting; floodlit quarries; lamps along a canal; the glow of a far town',
    places:
      'upland meadows; river banks; field margins; heathland; a nature reserve; forest edges; island dunes; drainage ditches | moorland; lake shores; hedged farmland; chalk grassland; a national forest; woodland rides; coastal marsh; farm ponds',
    measures:
      'catch per night; biomass; predation on clay caterpillars; number of species; parasitism rate; larval survival | catch per hour; dry weight; attacks on dummies; diversity; emergence; growth',
    methods:
      'lamp posts put up for the purpose; emergence traps; suction sampling; pitfall traps; sticky boards; a five-year field experiment | portable lamps; floating traps; vacuum samples; window traps; water pans; a trial over four seasons',
    keywords:
      'artificial light at night; insects; moths; light traps; predation; food webs; LED; insect decline; parasitoids; biomass',
    terms: 'Insect populations; Phototaxis; Predation (Biology); Lepidoptera',
    venueWords: 'Crepuscular Ecology; Field Entomology',
  },
  {
    name: 'moths',
    field: 'Entomology',
    weight: 9,
    since: 1889,
    things:
      'moth abundance; hawkmoth migration; larval growth of noctuids; wing wear in moths; pheromone calling; moth diversity; trap bias in moth surveys; winter moths; host choice of geometrids; pupal diapause | numbers of moths; the passage of hawkmoths; growth of cutworms; damage to wings; mate calling in moths; richness of moth faunas; error in moth monitoring; autumn moths; food plants of loopers; overwintering pupae',
    causes:
      'farm hedges; wind and temperature; host plant quality; moon phase; lamp colour in traps; winter rainfall; grazing; warming springs; tree species; altitude | shelter belts; weather fronts; nitrogen in leaves; moonlight; trap design; wet winters; hay cutting; early springs; bark and lichen; slope',
    places:
      'upland meadows; river valleys; orchards; heathland; island dunes; beech forest; field margins; mountain passes; a botanic garden | mires; gorges; vineyards; sandy pine woods; sea cliffs; oak forest; abandoned farmland; high pastures; a university garden',
    measures:
      'catch per night; wing length; number of species; larval mass; dates of flight; calling rate; survival to the pupa; wing pattern | moths per trap; forewing span; species count; weight of larvae; flight period; signal rate; hatching; melanism',
    methods:
      'ten years of trap records; rearing trials; radar and ground counts; a nested survey; a common garden; museum drawers; a wind tunnel; genetic barcodes | two decades of light trapping; laboratory colonies; vertical radar; a stratified survey; reciprocal transplants; old collections; flight mills; gene sequences',
    keywords:
      'Lepidoptera; moths; light traps; Noctuidae; Sphingidae; Geometridae; migration; phenology; host plants; moon phase; pheromones; diapause',
    terms: 'Lepidoptera; Insect populations; Sphingidae; Animal migration; Noctuidae',
    venueWords: 'Entomology in Quarters; Lepidoptera; Moths and Butterflies',
  },
  {
    name: 'pollination',
    field: 'Ecology',
    weight: 8,
    since: 1930,
    things:
      'pollination of campions; night-scented flowers; nectar renewal; bumblebee visits; floral scent; pollen limitation; solitary bees; self-compatibility; colour choice of hoverflies; seed set in small populations | pollination of evening primroses; fragrant flowers; nectar standing crop; honeybee trips; flower odour; shortage of pollen; mason bees; selfing; flower choice by flies; fruiting of rare plants',
    causes:
      'time of opening; plant density; nectar robbing; drought; garden cultivars; mowing; flower shape; a bee parasite; sown flower strips; competing blossoms | opening hours of flowers; spacing of plants; holes bitten in flowers; heat waves; double flowers; cutting dates; tube length; pesticide residues; wildflower margins; mass-flowering crops',
    places:
      'dry grassland; botanic gardens; meadows; roadside verges; orchards; oilseed fields; islands; forest gaps | limestone slopes; teaching gardens; pastures; railway banks; apple groves; clover fields; an archipelago; clearings',
    measures:
      'fruit set; visits per hour; nectar volume; pollen grains per stigma; seeds per pod; inbreeding; time per flower | berries formed; visitation; sugar per flower; stigma load; seed weight; outcrossing; bout length',
    methods:
      'exclusion cages; hand pollination; watches by day and by night; scent sampling; paternity analysis; dye transfer; video of flowers | bagged flowers; emasculation; round-the-clock observation; gas chromatography; microsatellites; labelled pollen; time-lapse cameras',
    keywords:
      'pollination; nectar; floral scent; fruit set; campion; flower visitors; pollen limitation; bees; mutualism; breeding system',
    terms: 'Pollination; Plant reproduction; Flowers; Bees; Nectar',
    venueWords: 'Flower Biology; Pollination Studies; Seed and Stigma',
  },
  {
    name: 'nature in towns',
    field: 'Ecology',
    weight: 7,
    since: 1968,
    things:
      'garden biodiversity; insect life on allotments; urban flower strips; green roofs; pollinators in cities; butterflies of parks; weeds of pavements; ponds in gardens; hedgehogs in gardens; urban trees | wildlife of back yards; insects of community gardens; sown city meadows; planted roofs; bees in town; park butterflies; plants of wall tops; garden water; mammals in suburbs; street trees',
    causes:
      'paving; garden management; urban heat; mowing regimes; distance to parks; ownership of gardens; pesticide bans; road traffic; new housing | sealed soil; garden styles; warm city centres; cutting less often; isolation; tenure; organic gardening; noise; infill building',
    places:
      'city gardens; allotment sites; housing estates; urban parks; old town walls; a postal district; railway land; school grounds | private gardens; vegetable plots; terraced streets; municipal parks; castle mounds; two suburbs; goods yards; playgrounds',
    measures:
      'number of species; flower cover; nests per plot; visits per hour; soil moisture; canopy cover; gardeners’ effort | species density; bloom; occupied trap nests; flower visitation; runoff; shade; hours of work',
    methods:
      'a survey of 140 gardens; repeated transects; interviews with gardeners; pan traps; aerial photographs; a citizen count; plots mown by lot | a garden census; walked routes; questionnaires; coloured bowls; satellite images; volunteers’ lists; a randomised trial of mowing',
    keywords:
      'urban ecology; gardens; allotments; pollinators; green space; city; biodiversity; green roofs; citizen science; mowing',
    terms: 'Urban ecology (Biology); Gardens; Green roofs; Allotments; Urban trees',
    venueWords: 'Urban Biology; Gardens and Allotments; Town Nature',
  },
  {
    name: 'lighting policy',
    field: 'Planning',
    weight: 7.5,
    since: 1950,
    things:
      'municipal lighting schedules; public consent to dimming; energy use of street lamps; road safety after dark; dark corridors in town plans; the cost of LED conversion; fear in unlit streets; lighting of monuments; light at windows | councils’ lighting hours; acceptance of darker streets; power drawn by public lamps; crashes at night; unlit routes in local plans; spending on lamp replacement; feeling safe after dark; floodlit churches; light trespass',
    causes:
      'part-night switching; budget cuts; planning guidance; residents’ complaints; sensor lamps; a change of supplier; public hearings; crime reports; lighting standards | switching off after midnight; austerity; national rules; petitions; adaptive control; outsourcing; consultation; press campaigns; design codes',
    places:
      'three counties; twelve councils; a harbour city; suburban districts; market towns; a new town; rural parishes; a capital’s outer ring | two provinces; nine boroughs; a mill town; commuter belts; spa towns; a garden suburb; island communes; an old centre',
    measures:
      'kilowatt-hours per lamp; complaints per year; collisions per kilometre; share of residents in favour; cost per column; walking after dark; recorded offences | energy per street; letters received; injuries; support in a vote; outlay; night-time footfall; break-ins',
    methods:
      'council records; a postal survey; interviews with lighting engineers; an interrupted time series; matched streets; document analysis; walking interviews; a choice experiment | minutes of committees; an online panel; focus groups; difference in differences; paired districts; a reading of plans; go-along interviews; a willingness-to-pay study',
    keywords:
      'street lighting; municipal policy; energy; road safety; public consent; LED conversion; dark sky planning; fear of crime; local government',
    terms: 'Street lighting; Municipal government; Energy consumption; Traffic safety; City planning',
    venueWords: 'Night Planning; Letters on Planning; Municipal Lighting',
  },
  {
    name: 'sleep and shift work',
    field: 'Health',
    weight: 10,
    since: 1960,
    things:
      'the sleep of shift workers; melatonin in nurses; evening light and sleep onset; night work and heart disease; bedroom light and mood; naps on duty; body weight of night workers; alertness of drivers; sleep in old age; jet lag in crews | sleep loss in rotating crews; hormone rhythm of ward staff; screens before bed; night duty and blood pressure; light at the bedside; short sleeps at work; diabetes in shift workers; errors at the wheel; insomnia in care homes; recovery after flights',
    causes:
      'rotating shifts; light at night; blue-rich screens; street lamps at bedroom windows; early starts; long weeks; bright light in the ward; noise; caffeine; dim evenings | changing rosters; evening brightness; phones in bed; outdoor lamps at the window; dawn shifts; overtime; lamps in the control room; traffic at night; strong tea; blackout blinds',
    places:
      'four hospitals; a steel plant; student housing; care homes; call centres; a railway depot; an offshore platform; two airlines | three clinics; a paper mill; barracks; residential homes; a dispatch centre; a bus garage; a research vessel; a ferry line',
    measures:
      'hours of sleep; salivary melatonin; odds of illness; reaction time; core temperature; sick days; mood score; waking after onset | sleep length; urinary sulphatoxymelatonin; hazard of disease; lapses of attention; rhythm amplitude; absences; wellbeing; sleep efficiency',
    methods:
      'a cohort of {1200-9800} workers; a crossover trial; wrist actigraphy; sleep diaries; a case-control study; polysomnography; a light box at home; saliva taken each hour | a panel of {900-7400} staff; a randomised crossover; activity watches; questionnaires; registers; laboratory nights; light therapy goggles; urine samples',
    keywords:
      'shift work; sleep; melatonin; circadian rhythm; light at night; nurses; actigraphy; insomnia; occupational health; street lamps',
    terms: 'Sleep; Shift systems; Circadian rhythms; Melatonin; Occupational diseases',
    venueWords: 'Sleep, Shift and Health; Rest and Rhythm; Occupational Nights',
  },
  {
    name: 'light and disease',
    field: 'Health',
    weight: 3,
    since: 1985,
    things:
      'breast cancer and light at night; outdoor light and obesity; light exposure in pregnancy; night light and childhood sleep; glare and falls in the old | tumours and evening light; night brightness and weight gain; lamps in the nursery; lit bedrooms of infants; lamps and accidents at home',
    causes:
      'outdoor light at night; shift work; sky brightness at home; short nights; LED headlamps | satellite-seen light; night duty; lamps outside the house; curtailed sleep; screens',
    places:
      'a national register; two health districts; cities of {4-9} countries; a birth cohort; a teachers’ study | insurance records; a county; urban and rural communes; a twin register; a nurses’ panel',
    measures:
      'hazard ratios; body mass index; melatonin; blood glucose; odds of falling | incidence; waist girth; hormone levels; insulin; fractures',
    methods:
      'satellite images linked to addresses; a case-control study; a nested cohort; dose meters; a systematic search | night-time radiance by postcode; matched controls; follow-up over {8-20} years; wearable sensors; pooled data',
    keywords:
      'light at night; cancer; circadian disruption; obesity; epidemiology; exposure assessment; melatonin; shift work',
    terms: 'Neoplasms; Environmental exposure; Circadian rhythms; Epidemiology',
    venueWords: 'Exposure and Health; Light Epidemiology',
  },
  {
    name: 'bats',
    narrow: true,
    field: 'Ecology',
    weight: 5,
    since: 1950,
    things:
      'bat foraging at lamps; commuting bats; moth escape from bats; roost emergence; bats over water; mating swarms; hibernation in tunnels | feeding bats near street lamps; flight lines of bats; hearing of moths; leaving the roost; riverside bats; autumn swarming; winter roosts',
    causes:
      'lit bridges; hedgerow gaps; ultrasonic noise; lamp spacing; church floodlights; insect supply; road building | lamps on bridges; broken tree lines; playback; lamp colour; lit roofs; prey density; a bypass',
    places:
      'river crossings; old orchards; church roofs; suburban lanes; mine adits; a city canal; woodland rides | weirs; parkland; barns; village streets; caves; urban rivers; avenues',
    measures:
      'passes per night; emergence time; feeding buzzes; flight speed; roost counts; guano | calls recorded; first departure; capture attempts; height of flight; numbers in summer; diet',
    methods:
      'acoustic detectors; thermal cameras; playback; radio tags; mist nets; counts at dusk | call recorders; night vision; sound experiments; telemetry; harp traps; emergence counts',
    keywords:
      'bats; echolocation; lamps; foraging; moths; linear habitat; street lighting; roosts; acoustic monitoring',
    terms: 'Bats; Echolocation; Predation (Biology); Animal flight',
    venueWords: 'Bat Biology; Ultrasound and Flight',
  },
  {
    name: 'glowing beetles',
    narrow: true,
    field: 'Entomology',
    weight: 3,
    since: 1910,
    things:
      'glow-worm mating; firefly flashes; beetle courtship; larval glow; glow-worm colonies | signals of female glow-worms; flash dialogues; lampyrid mating; light of larvae; isolated populations',
    causes:
      'street lamps; mown verges; light from houses; drought; snail supply; collecting | roadside lights; grass cutting; porch lamps; dry summers; prey; tourism',
    places:
      'country lanes; railway cuttings; village edges; wet meadows; a river park; castle ditches | sunken roads; quarry floors; gardens; rice terraces; dikes; orchards',
    measures:
      'males per lure; flash rate; females glowing; time to mating; number of larvae | attracted males; interval of pulses; display length; mating success; density',
    methods:
      'dummy females; night walks; a mirror box; capture and release; counts by volunteers | LED lures; evening transects; playback of flashes; marking; repeated visits',
    keywords: 'Lampyridae; glow-worms; bioluminescence; artificial light; mating; courtship; conservation',
    terms: 'Beetles; Bioluminescence; Courtship in animals',
    venueWords: 'Beetle Studies; Luminous Animals',
  },
  {
    name: 'birds and light',
    narrow: true,
    field: 'Ecology',
    weight: 4,
    since: 1960,
    things:
      'dawn song under lamps; night migration over cities; seabird fledglings; nesting near lamps; stress in nestlings; owls in towns | early singing; birds circling lit towers; grounded petrels; breeding in lit gardens; sleep of tits; night herons',
    causes:
      'street lighting; lit towers; harbour lights; nest box lamps; fireworks; traffic noise | lamps along roads; glass facades; ship lights; LEDs in nest boxes; storms; town noise',
    places:
      'suburban woods; a lighthouse; city centres; parks; an island colony; oil platforms | garden suburbs; coastal towers; a business quarter; cemeteries; cliffs; wind farms',
    measures:
      'song onset; carcasses per night; laying date; corticosterone; nestling mass | first song; collisions; clutch size; sleep; fledging weight',
    methods:
      'sound recorders; radar; nest boxes; ringing; counts below towers | microphones; night calls; cameras in boxes; colour rings; volunteers’ searches',
    keywords: 'birds; artificial light; song; migration; collisions; nest boxes; urban ecology; physiology',
    terms: 'Birds; Bird migration; Birdsongs; Light pollution',
    venueWords: 'Bird Nights; Ornithological Papers',
  },
  {
    name: 'sky brightness',
    field: 'Physics',
    weight: 4.5,
    since: 1970,
    things:
      'the brightness of the night sky; skyglow over towns; satellite records of light; star visibility; upward light of street lamps; the colour of skyglow | night sky luminance; domes of light; night images from orbit; counts of stars; light emitted upward; spectra of the sky',
    causes:
      'cloud cover; LED conversion; aerosols; lamp shielding; city growth; snow | overcast; lamp replacement; haze; cut-off fittings; sprawl; leaf fall',
    places:
      'mountain sites; three cities; a dark reserve; coastal villages; an observatory; islands | plateaus; five towns; a national park; fjords; a hilltop; deserts',
    measures:
      'magnitudes per square arcsecond; radiance; colour ratio; limiting magnitude; luminance | zenith brightness; night radiance; spectral index; visible stars; illuminance',
    methods:
      'handheld meters; all-sky photographs; satellite composites; ray models; a citizen count | fixed meters; fisheye images; balloon flights; radiative transfer; star counting',
    keywords: 'sky glow; light pollution; night sky; radiance; LED; clouds; photometry; remote sensing',
    terms: 'Light pollution; Photometry; Remote sensing; Atmospheric optics',
    venueWords: 'Sky Photometry; Night Sky Studies',
  },
  {
    name: 'lamp engineering',
    field: 'Optics',
    weight: 7,
    since: 1950,
    things:
      'light output of LED arrays; glare from lamps; spectral shift of phosphors; lumen depreciation; drivers for LED lamps; lens design; thermal paths in fittings; flicker; lamp poles in wind | efficacy of LED modules; discomfort from luminaires; ageing of phosphor; decay of flux; power supplies; optics of lamps; heat sinks; light modulation; column fatigue',
    causes:
      'junction temperature; lens ageing; drive current; dimming; humidity; dirt; voltage dips | hot chips; yellowing; pulse width; low output; salt spray; dust; surges',
    places:
      'a test chamber; outdoor poles; tunnel fittings; a trial street; a laboratory sphere | a climate room; motorway lamps; a test tunnel; two roads; an optical bench',
    measures:
      'lumens per watt; colour temperature; luminance; hours to failure; flicker index | efficacy; chromaticity; candela; lifetime; modulation depth',
    methods:
      'accelerated ageing; goniophotometry; ray tracing; thermal imaging; field returns; finite elements | stress tests; a rotating mirror; simulation; infrared pictures; failure records; a wind tunnel',
    keywords: 'LED; lamps; luminous efficacy; glare; spectrum; thermal management; road lighting; reliability',
    terms: 'Light emitting diodes; Photometry; Electric lamps; Reliability (Engineering)',
    venueWords: 'Optics of Lamps; Lighting Engineering; Solid-State Light',
  },
  {
    name: 'small boats',
    field: 'Naval engineering',
    weight: 3.5,
    since: 1965,
    things:
      'hydrofoil lift of the Moth class; hull drag of light dinghies; mast bend in a Moth boat; capsize of light craft; sail trim; foiling in waves | foils of Moth dinghies; resistance of light hulls; rigs of the Moth; stability of dinghies; wing sails; flight of foiling boats',
    causes:
      'rake angle; crew position; foil ventilation; gusts; surface finish; rudder load | angle of attack; trim; air on the foil; wind shear; roughness; helm',
    places:
      'a towing tank; coastal races; a wind tunnel; sheltered water; a lake | a flume; regattas; a water channel; a bay; a reservoir',
    measures:
      'lift coefficient; boat speed; pitch angle; drag; heel | lift; velocity made good; trim angle; resistance; roll',
    methods:
      'strain gauges; a flow model; race telemetry; video; a test rig | load cells; fluid simulation; position logs; high-speed film; a full-scale rig',
    keywords: 'sailing; Moth class; hydrofoil; light dinghy; sail; hull resistance; flight',
    terms: 'Sailboats; Hydrofoils; Fluid mechanics',
    venueWords: 'Small Vessel Engineering; Sails and Foils',
  },
  {
    name: 'bat and ball',
    field: 'Sport',
    weight: 3,
    since: 1975,
    things:
      'swing speed of the bat; ball exit speed; day-night matches; batting under floodlights; wrist injuries in batters | bat swing; ball rebound; evening games; seeing the ball under lamps; shoulder pain in bowlers',
    causes:
      'bat weight; floodlight glare; fatigue; grip; ball colour; practice | light bats; lamp height; long innings; handle length; pink balls; coaching',
    places:
      'club grounds; a city stadium; a motion laboratory; youth academies; night fixtures | school fields; a municipal ground; a gait laboratory; training camps; league matches',
    measures:
      'swing time; exit velocity; runs per over; reaction time; grip force | bat speed; rebound; batting average; response time; torque',
    methods:
      'motion capture; high-speed video; match records; eye tracking; a questionnaire | inertial sensors; film; score books; gaze recording; a survey',
    keywords: 'bat; ball; swing; floodlights; batting; biomechanics; night matches; vision in sport',
    terms: 'Sports; Biomechanics; Ball games',
    venueWords: 'Ball Games Science; Sport Mechanics',
  },
  {
    name: 'pollination of ideas',
    field: 'Management',
    weight: 4,
    since: 1985,
    things:
      'the cross-pollination of ideas; idea exchange in firms; LED start-ups; garden cities of innovation; boundary spanners; teams led by newcomers | pollination between disciplines; the flow of ideas; lamp makers’ clusters; incubators; knowledge brokers; led teams',
    causes:
      'shared offices; staff mobility; trust; led workshops; patents; distance | open plans; job rotation; rivalry; facilitated meetings; licences; remote work',
    places:
      'three industries; city districts; university spin-offs; design firms; a science park | two sectors; urban clusters; young firms; studios; a campus',
    measures:
      'patents per head; new products; ties per person; survival of firms; citations | inventions; launches; network density; growth; shared papers',
    methods:
      'social network analysis; interviews; a panel of firms; patent data; case studies | email logs; ethnography; company records; co-authorship data; a comparison of cases',
    keywords: 'innovation; knowledge exchange; cross-pollination; teams; leadership; clusters; networks; ideas',
    terms: 'Diffusion of innovations; Leadership; Organizational learning',
    venueWords: 'Enterprise Papers; Idea Exchange',
  },
  {
    name: 'light materials',
    field: 'Materials',
    weight: 4,
    since: 1965,
    things:
      'light concrete panels; light timber frames; weight of packaging; light gauge steel; honeycomb cores; light rail cars | lightweight blocks; slender frames; thin boxes; cold-formed sections; sandwich panels; light vehicles',
    causes:
      'moisture; cyclic load; recycled filler; wall thickness; joints; fire | damp; fatigue; fly ash; slenderness; screws; heat',
    places:
      'a testing hall; bridge decks; urban housing; night construction sites; a pilot plant | a laboratory; footbridges; city blocks; depots; a factory',
    measures:
      'strength per weight; deflection; cost per square metre; density; cracks | specific stiffness; sag; price; mass; damage',
    methods:
      'bending tests; finite elements; a life-cycle account; scale models; ultrasound | loading rigs; numerical models; costing; mock-ups; acoustic emission',
    keywords: 'light structures; weight; density; panels; housing; light rail; materials; strength',
    terms: 'Lightweight construction; Building materials; Structural engineering',
    venueWords: 'Light Construction; Materials and Weight',
  },
  {
    name: 'history of lighting',
    field: 'Humanities',
    weight: 4.5,
    since: 1920,
    things:
      'gas lamps and the city; the lamplighter’s trade; night watches; the first electric street lamps; festivals of light; moths in poems; the fear of the dark; lanterns in painting | gaslight; lighting crews; curfews; arc lamps; illuminations; the moth as an emblem; night in novels; candles on stage',
    causes:
      'municipal reform; the gas companies; war blackouts; police orders; electrification; trade guilds | town councils; coal prices; air raids; curfew law; power stations; unions',
    places:
      'Halverane; Ostmere and Dunmorrow; three port cities; a mining town; a royal residence; market towns | Vellacombe; Estermark; canal cities; a textile town; a court; spa towns',
    measures:
      'lamps per street; wages; hours of burning; complaints; images in print | burners; rents; winter hours; petitions; mentions',
    methods:
      'council minutes; account books; letters and diaries; newspapers; maps; oral history | archives; ledgers; memoirs; prints; directories; interviews',
    keywords: 'gas lighting; night; urban history; electrification; lamplighters; blackout; street lamps; culture',
    terms: 'Street lighting -- History; Cities and towns -- History; Night in literature',
    venueWords: 'Nocturnal History; Lamplight Papers; Town Archives',
  },
  {
    name: 'orchard pests',
    narrow: true,
    field: 'Entomology',
    weight: 4,
    since: 1900,
    things:
      'leaf-roller moths; fruit damage; trap catches of pest moths; mating disruption; natural enemies in orchards; warehouse moths | bud moths; wormy fruit; pest monitoring; confusion of males; predators of larvae; flour moths',
    causes:
      'light traps; spray timing; pheromone lures; bird boxes; net covers; storage temperature | lamps as traps; reduced sprays; dispensers; hedges; exclusion nets; cooling',
    places:
      'apple orchards; vineyards; hop gardens; grain stores; nut groves | pear orchards; berry farms; greenhouses; mills; citrus groves',
    measures:
      'damaged fruit; moths per trap; larvae per tree; yield; cost per hectare | injury; catch; infestation; harvest; spending',
    methods:
      'a block trial; weekly trap counts; sentinel eggs; a degree-day model; farm records | replicated plots; monitoring; exposed pupae; forecasts; growers’ diaries',
    keywords: 'pest control; light traps; pheromones; moths; orchards; mating disruption; biological control',
    terms: 'Insect pests -- Control; Orchards; Pheromones; Moths',
    venueWords: 'Orchard Protection; Applied Insect Control',
  },
]

/** Things, causes and places of the demo's question under their old names, and its thin and old corner. */
export const OLD_CORNER = {
  before: 1996,
  causes: 'night lanterns; outdoor lamps; mercury lamps; lamps of the watch',
  places: 'allotments; allotment colonies; allotment strips behind the gasworks',
  things: 'the lantern fauna; lamp-drawn moths; night-flying insects at lanterns',
}

export const words = (list: string): [string[], string[]] => {
  const [open = '', held = ''] = list.split(' | ')
  return [open.split('; '), held.split('; ')]
}
