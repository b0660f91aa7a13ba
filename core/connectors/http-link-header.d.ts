declare module 'http-link-header' {
  export default class LinkHeader {
    /** @throws where it is no Link header (RFC 8288) */
    static parse(header: string): LinkHeader
    refs: { uri: string; rel: string; type?: string }[]
    rel(value: string): { uri: string }[]
  }
}
