import './setup'
import { array, boolean, number, object, string } from 'yup'
import { INDEXES } from '../query/cql'
import { ROLES } from '../query/sheet'

const id = string().max(60).required()
const term = object({
  id,
  text: string().max(500).defined(),
  role: string()
    .oneOf([...ROLES])
    .required(),
  on: boolean().required(),
  ending: boolean(),
  apart: boolean(),
  field: string().oneOf([...INDEXES]),
  from: string().max(200),
  cql: string().max(5000),
  sweep: number().integer().positive(),
}).noUnknown()
const year = number().integer().min(1000).max(2999)

/** A question sheet as it is saved. */
export const sheetShape = object({
  concepts: array(
    object({ id, name: string().max(120).defined(), terms: array(term).max(200).required() })
      .noUnknown()
      .required(),
  )
    .max(12, 'A question sheet holds twelve concepts at most.')
    .required(),
  without: array(term).max(200).required(),
  years: object({ from: year, to: year }).noUnknown().default(undefined),
  languages: array(
    string()
      .matches(/^[a-z]{2,3}$/)
      .required(),
  ).max(20),
  kinds: array(string().max(40).required()).max(20),
  refereed: boolean(),
  withAbstract: boolean(),
  withinReach: boolean(),
  notAsked: array(string().max(60).required()).max(60),
  order: array(id).max(60).required(),
  off: array(id).max(60).required(),
  zone: array(number().integer().min(1).max(100_000).required()).length(2).required(),
}).noUnknown()
