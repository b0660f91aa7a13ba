import { api } from '../../core/schema/api'
import type { Context } from '../base/context'
import { change } from '../db/revision'
import type { Serve } from '../serve/serve'
import {
  conceptOf,
  dropVocabulary,
  readAnew,
  relatedWords,
  takeVocabulary,
  vocabulariesOf,
} from './vocabularies-service'

/** Vocabularies, and words looked up in them. */
export function vocabularyRoutes(c: Context, serve: Serve): void {
  serve(api.vocabularies, ({ member }) => vocabulariesOf(c, member.inquiryId))
  serve(api.bringVocabulary, ({ member, file, once }) => once(t => takeVocabulary(c, member, file, t)))
  serve(api.readVocabulary, ({ member, params, once }) => once(t => readAnew(c, member, params.vocabulary, t)))
  serve(api.dropVocabulary, ({ member: { inquiryId }, params }) =>
    change(c, inquiryId, t => dropVocabulary(c, inquiryId, params.vocabulary, t)),
  )
  serve(api.relatedWords, ({ member, query }) => relatedWords(c, member.inquiryId, query.words))
  serve(api.vocabularyConcept, ({ member, params }) =>
    conceptOf(c, member.inquiryId, params.vocabulary, params.concept),
  )
}
