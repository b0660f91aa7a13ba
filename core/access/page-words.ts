import { fold } from '../bib/fold'

/** A letter of a writing that parts its words. */
const LETTER = '[\\p{Script=Latin}\\p{Script=Cyrillic}\\p{N}]'
/**
 * What pages say, in the languages that platforms speak. Texts are folded before they are asked: no case, no marks on
 * letters, no full width.
 */
const words = (pattern: string) => new RegExp(`(?<!${LETTER})(?:${fold(pattern)})(?!${LETTER})`, 'u')

/** A link to a text. */
export const FILE = words(
  'pdf|download|full[ -]?text|fulltext|volltext|herunterladen|artikel lesen|texte (integral|complet)|telecharger|article complet|texto (completo|integral)|descargar|baixar|testo completo|scarica|volledige tekst|downloaden|fulltekst|fulltext|ladda ner|last ned|koko teksti|pelny tekst|pobierz|cely text|stahnout|print(able|er[- ]friendly)? version|read (the )?(article|paper|chapter|text|full)|view (the )?(article|paper|file|document)|open (the )?(article|paper|file)|access (the )?(article|paper)|скачать|полныи текст|tam metin|indir|unduh|descarrega|letoltes|preuzmi|stiahnut|النص الكامل|تحميل|تنزيل|הורדה|다운로드|\\d+([.,]\\d+)? ?(kb|mb|kib|mib|ko|mo|кб|мб)|ダウンロード|本文|全文|下载|下載|원문',
)
/** A link to a file beside a text, or about it. */
export const NOT_IT = words(
  'supplement(s|al|ary)?|supporting information|appendix|appendices|anhang|annexes?|anexos?|allegat[oi]|bijlage[n]?|guide(lines)?|instructions?|hinweise|media (kit|guide)|flyer|brochure|leaflet|poster|slides|(whole|full|entire|complete) issue|gesamtes heft|ganzes heft|numero complet|numero completo|fascicolo completo|table of contents|contents|inhalt(sverzeichnis)?|sommaire|indice|licen[sc]e(\\.txt)?|lizenz|site ?map|prices?|pricing|epub|xml|mobi|docx?|txt|ris|bibtex|cite|citation|citer|zitieren|zitation|export|exporter|exportieren|reference|metadata|metadaten|permissions?|reprints?|corrigendum|erratum|correction|cover|front matter|back matter|titelei|masthead|editorial board|peer review file|author agreement|copyright (form|transfer)|submit|submission|subscribe|subscription|abonnement|agreement|privacy|datenschutz|help|hilfe|contact|kontakt|accessibility|software',
)
/** A link by which money is asked. */
export const BUY = words(
  'buy|purchase|rent|add to (cart|basket)|cart|checkout|order|kaufen|bestellen|warenkorb|acheter|panier|comprar|carrito|acquista|carrello|kopen|kop',
)
/** A part of a book. */
export const CHAPTER = words('chapters?|kapitel|chapitres?|capitulos?|capitol[oi]|hoofdstuk(ken)?|rozdzial|глава|章')
export const WHOLE_BOOK = words(
  '(whole|full|entire|complete) (book|text|work)|all chapters|ganzes buch|gesamtes (buch|werk)|livre (entier|complet)|libro completo|livro completo',
)
/** A list of older issues. */
export const ARCHIVE = words(
  'archives?|archiv|past issues|back issues|all (issues|volumes)|(previous|older|earlier) (issues|volumes)|issues|volumes|browse( by)? (issue|volume|journal)s?|contents of volumes|ausgaben|alle hefte|jahrgange|bande|heftarchiv|numeros( precedents| anteriores| publies)?|tous les numeros|anciens numeros|edicoes( anteriores)?|numeros|archivos?|arquivos?|archivio|fascicoli|numeri( precedenti)?|archief|jaargangen|nummers|tidigare nummer|arkisto|archiwum|архив( номеров| журнала)?|номера|выпуски|巻号一覧|バックナンバー|过刊|過刊',
)
/** What came out and has no volume yet. */
export const AHEAD = words(
  'ahead of print|in press|in advance|forthcoming|accepted articles|vorab( online)?|im druck|sous presse|a paraitre|en prensa|no prelo|in corso di stampa|в печати',
)
export const NEXT = words(
  'next( page)?|more|older|weiter|nachste( seite)?|suivant(e)?|siguiente|proxima|successiv[oa]|volgende|nasta|далее|次へ|下一页',
)

export const ACCEPT = words(
  'i (have read and )?(accept|agree|consent)|(accept|agree)( to)?( the| these| and)?( terms| conditions| continue)?|i understand|ich (akzeptiere|stimme|bin einverstanden|nehme)|akzeptieren|zustimmen|einverstanden|j accepte|accepter|acepto|aceptar|estoy de acuerdo|aceito|aceitar|concordo|accetto|accettare|akkoord|ik ga akkoord|godkann(er)?|jag accepterar|hyvaksyn|akceptuje|zgadzam sie|souhlasim|принимаю|согласен|同意',
)
const REFUSE = words(
  '(do not|don t|not) (accept|agree|consent)|decline|reject|refuse|ablehnen|nicht|refuser|rechazar|recusar|rifiuto|weiger(en)?|不同意',
)
export const TERMS = words(
  'terms|conditions|rules of use|own study|personal (use|study)|nutzungsbedingungen|bedingungen|eigene[ns]? (studium|gebrauch)|conditions (d utilisation|generales)|condiciones( de uso)?|termos( de uso)?|condicoes|termini|condizioni|voorwaarden|villkor|kayttoehdot|regulamin|podminky|условия|利用規約|条款',
)
export const COOKIES = words('cookies?|consent|keksen?|tracking')

const CHALLENGE =
  /captcha|are you (a )?(human|robot)|you are (a )?human|not a robot|verify(ing)? (that )?you|checking (that you|your browser)|unusual traffic|security check|type the (characters|letters|words)|sind sie ein mensch|kein roboter|zeichen (ein|im bild)|pas un robot|caracteres (de l|que ve|da) ?image|no (soy|eres) un robot|nao sou um robo|non sono un robot|не робот/
const TOO_MANY =
  /too many (requests|downloads)|(download|daily|usage) limit|limit (of downloads )?(is )?(reached|exceeded)|(maximum|allowed) number of (downloads|articles|files|requests)|systematic downloading|slow down|rate limit|zu viele (anfragen|downloads|zugriffe)|tageslimit|downloadlimit|trop de (requetes|telechargements)|limite (de telechargements|de descargas|diaria|quotidienne)|demasiad[ao]s (solicitudes|descargas)|muitos (pedidos|downloads)|troppe richieste|te veel (aanvragen|downloads)|слишком много/
const OUT_OF_SERVICE =
  /(temporarily|currently) (unavailable|not available|out of service|down)|under maintenance|scheduled maintenance|service unavailable|wartungsarbeiten|derzeit nicht (verfugbar|erreichbar)|en maintenance|momentanement indisponible|en mantenimiento|fuera de servicio|em manutencao|in manutenzione|in onderhoud/
const SESSION_OVER =
  /session (has |is |was )?(expired|timed out|ended|over|no longer valid|invalid)|timed out|(sitzung|anmeldung) (ist |wurde )?(abgelaufen|beendet|ungultig)|session (a |est )?(expire|terminee)|sesion (ha )?(caducado|expirado|caducada)|sessao (expirou|expirada|terminou)|sessione (e )?scaduta|sessie (is )?verlopen|sessionen har (gatt ut|upphort)|сессия (истекла|завершена)|セッション.{0,10}(切れ|タイムアウト)|会话.{0,4}(过期|超时)/
const NOT_THERE =
  /(page|article|document|file|item|record|resource|content|doi)[^.]{0,60}(not|no longer|cannot be|could not be|can t be) (found|exists?|available|located)|not found|does not exist|no such (page|article|item)|404|nicht gefunden|existiert nicht|nicht mehr (verfugbar|vorhanden)|introuvable|n existe pas|no (se ha )?encontrad[ao]|no existe|nao (foi )?encontrad[ao]|nao existe|non (e stat[ao] )?trovat[ao]|niet gevonden|hittades inte|finns inte|не наидена?/
const EMBARGO =
  /embargo|not yet (available|open|public)|(available|open|opens|accessible|public|free)[^.]{0,30} (from|after|on|until) |gesperrt bis|noch nicht (verfugbar|freigegeben)|(acces|accessible|disponible)[^.]{0,30} (a partir|a compter|a partir)|moving wall|restricted until/
const NOT_PAID =
  /(get|purchase|buy|obtain) (full )?access|(buy|purchase|rent) (this|the|article|chapter|pdf|single|now)|(not|n t|no) (have|currently have|include|provide)[^.]{0,40}(access|subscription|subscribe|licen[sc]e)|(subscription|subscribers?) (is |are )?(required|only)|requires (a )?(subscription|payment|purchase)|not (subscribed|entitled|licen[sc]ed)|no access|access (denied|restricted|to this (content|article|document) is restricted)|price|kein(en)? zugriff|nicht (lizenziert|abonniert)|artikel kaufen|kostenpflichtig|acces (refuse|restreint|payant|reserve)|acheter (cet|l|ce)|reserve aux abonnes|acceso (denegado|restringido)|comprar (este|articulo)|acesso (negado|restrito)|accesso (negato|riservato)|geen toegang|ingen atkomst|нет доступа|доступ (закрыт|ограничен)/
const SIGN_IN =
  /sign[ -]?in|log[ -]?in|log[ -]?on|(through|via|choose|find|select|search for) your (institution|organi[sz]ation|university|library)|anmelden|einloggen|anmeldung|uber ihre (einrichtung|institution|bibliothek)|(se )?connect(er|ez)|connexion|identifi(er|ez)|votre (etablissement|institution)|iniciar sesion|su institucion|acceder|entrar|iniciar sessao|sua instituicao|accedi|la tua istituzione|inloggen|logga in|kirjaudu|zaloguj|prihlasit|воити|вход|ログイン|登录|登錄/
const PROGRAM =
  /javascript|java script|cookies[^.]{0,20}(enabled|required|needed|on\b)|(needs?|requires?|accept|activer|aktivieren) (the )?cookies|enable scripts?|browser (is )?(not supported|out of date)/

/** A text as the patterns want it: folded, apostrophes and quotes for spaces, white space for one. */
export const plainWords = (text: string): string =>
  fold(text)
    .replace(/[’'`´"“”„«»]/g, ' ')
    .replace(/\s+/g, ' ')
    .trim()

export const says = {
  challenge: (t: string) => CHALLENGE.test(t),
  tooMany: (t: string) => TOO_MANY.test(t),
  outOfService: (t: string) => OUT_OF_SERVICE.test(t),
  sessionOver: (t: string) => SESSION_OVER.test(t),
  notThere: (t: string) => NOT_THERE.test(t),
  embargo: (t: string) => EMBARGO.test(t),
  notPaid: (t: string) => NOT_PAID.test(t),
  signIn: (t: string) => SIGN_IN.test(t),
  program: (t: string) => PROGRAM.test(t),
  accept: (t: string) => ACCEPT.test(t) && !REFUSE.test(t),
}

/** Where in a journal a link or a heading says that it leads, as far as it says it. */
export interface Place {
  volume?: string
  issue?: string
  year?: number
  /** Pages that it covers. */
  pages?: readonly [first: number, last: number]
}

const VOLUME_BEFORE =
  /(?<![\p{L}\p{N}])(?:vol(?:ume|umen|\.)?|v\.|band|bd\.?|jahrgang|jg\.?|tome|t\.|tomo|том|т\.|jaargang|argang|rocznik|tom|anno|annata|ano|vuosikerta|rocnik|巻|第)\s*[.:]?\s*(\d{1,4})(?![\p{L}\p{N}])/u
const VOLUME_AFTER = /(?<![\p{L}\p{N}])(\d{1,4})\.?\s*(?:jahrgang|argang|jaargang|rocnik|vuosikerta|巻|卷)/u
const ISSUE_BEFORE =
  /(?<![\p{L}\p{N}])(?:issue|iss\.?|no\.?|nr\.?|num\.?|number|heft|h\.|numero|n[o°º]?\.?|№|fascicolo|fasc\.?|выпуск|вып\.?|номер|numer|zeszyt|hafte|hefte|nummer|aflevering|cislo|号)\s*[.:]?\s*(\d{1,4}(?:[-–/]\d{1,4})?)(?![\p{L}\p{N}])/u
const ISSUE_AFTER = /(?<![\p{L}\p{N}])(\d{1,4})\s*(?:号|期|호)/u
/** "52 (6)", "52/6", "52.6" alone. */
const BOTH = /^(?:\D{0,80}\s)?(\d{1,4})\s*(?:\(|\/|\.)\s*(\d{1,3})\)?$/u
const YEAR = /(?<!\d)((?:18|19|20)\d\d)(?!\d)/
const PAGES = /(?:pp?\.?|s\.|seiten|pages|paginas?|pag\.?)\s*(\d{1,5})\s*[-–—]\s*(\d{1,5})/

/** @param text as `plainWords` gives it */
export function readPlace(text: string): Place {
  const volume = VOLUME_BEFORE.exec(text)?.[1] ?? VOLUME_AFTER.exec(text)?.[1]
  const issue = ISSUE_BEFORE.exec(text)?.[1] ?? ISSUE_AFTER.exec(text)?.[1]
  const year = YEAR.exec(text)?.[1]
  const pages = PAGES.exec(text)
  const both = volume === undefined && issue === undefined ? BOTH.exec(text) : null
  return {
    ...((volume ?? both?.[1]) ? { volume: volume ?? both![1]! } : {}),
    ...((issue ?? both?.[2]) ? { issue: issue ?? both![2]! } : {}),
    ...(year ? { year: Number(year) } : {}),
    ...(pages ? { pages: [Number(pages[1]), Number(pages[2])] as const } : {}),
  }
}
