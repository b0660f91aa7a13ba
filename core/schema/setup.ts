import { addMethod, setLocale, string } from 'yup'

/** How shapes are made here. Schemas take this as they are made, so it is imported before any is. */

/** What is said where a shape has no words of its own: sentences for a student instead of the library's. */
setLocale({
  mixed: {
    required: 'This is missing.',
    defined: 'This is missing.',
    notNull: 'This is missing.',
    notType: 'This is not what belongs here.',
    oneOf: 'This is none of the choices.',
  },
  string: {
    min: ({ min }) => `At least ${min} ${min === 1 ? 'letter' : 'letters'}.`,
    max: ({ max }) => `At most ${max} letters.`,
    matches: 'This is not written as it has to be.',
    email: 'This is not an e-mail address.',
  },
  number: {
    min: ({ min }) => `At least ${min}.`,
    max: ({ max }) => `At most ${max}.`,
    integer: 'A whole number, please.',
  },
  array: {
    min: ({ min }) => `At least ${min}.`,
    max: ({ max }) => `At most ${max}.`,
    length: ({ length }) => `Exactly ${length}.`,
  },
})

// the library's own call methods of texts on whatever came, and throw at a list
const onTexts = (change: (text: string) => string) => (value: unknown) =>
  typeof value === 'string' ? change(value) : value
addMethod(string, 'trim', function () {
  return this.transform(onTexts(text => text.trim()))
})
addMethod(string, 'lowercase', function () {
  return this.transform(onTexts(text => text.toLowerCase()))
})
