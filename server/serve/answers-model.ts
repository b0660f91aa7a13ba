import { describeTable, json, key, keyText, moment, orNull, whole, word, type RowOf, type Table } from '../db/table'

/** What was answered to a request that can be sent again. */
export const answers = describeTable('answers', {
  userId: key(),
  answerKey: keyText(),
  requestHash: word(),
  inquiryId: orNull(whole()),
  status: whole(),
  body: json<Record<string, unknown>>(),
  at: moment(),
})
export type AnswerRow = RowOf<typeof answers>

declare module '../base/context' {
  interface Db {
    answers: Table<AnswerRow>
  }
}
