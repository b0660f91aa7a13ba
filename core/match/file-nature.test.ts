import { expect, test } from '@jest/globals'
import { fileNature } from './file-nature'

const pdf = '%PDF-1.7\n'
const end = 'startxref 5\n%%EOF'

test.each([
  ['a PDF', pdf, end],
  ['with what a mail program left before it', `${'junk\n'.repeat(200)}${pdf}`, end],
  ['with an end of line behind it', pdf, `${end}\r\n\n`],
  ['with a few bytes behind it', pdf, `${end}\n${'x'.repeat(64)}`],
  ['that is encrypted, which its reader will see', `${pdf}<</Encrypt 7 0 R>>`, `/Encrypt 7 0 R ${end}`],
  ['with what a server added behind it', pdf, `${end}\n${'<!-- served -->'.repeat(40)}`],
])('%s is one', (_, head, tail) => expect(fileNature(9000, head, tail)).toEqual({ pdf: true }))

test.each([
  ['nothing', '', '', 'an empty file', 0],
  ['a file that begins as a PDF far behind its start', `${'j'.repeat(1030)}${pdf}`, end, 'another kind of file'],
  ['something like a PDF', '%PDF-x', end, 'another kind of file'],
  ['an archive', 'PK\u0003\u0004', end, 'another kind of file'],
  ['a PDF without its end', pdf, 'endstream', 'half a file'],
  ['one whose newest version is cut off', pdf, `${end}\n12 0 obj << /Length 90`, 'half a file'],
  ['a page with a field for a password', '<HTML><input type=password>', '', 'a sign-in page'],
  ['in single quotes', "<html><input type='password'>", '', 'a sign-in page'],
  ['in double quotes', '<html><input type="password">', '', 'a sign-in page'],
  ['a page that asks to sign in', '<body>Please sign in', '', 'a sign-in page'],
  ['one that writes it with a hyphen', '<body>Sign-in', '', 'a sign-in page'],
  ['one that writes it as a word', '<body>signin', '', 'a sign-in page'],
  ['one that says log in', '<head>Log in', '', 'a sign-in page'],
  ['login', '<head>LOGIN', '', 'a sign-in page'],
  ['log-in', '<head>log-in', '', 'a sign-in page'],
  ['a page that wants a human', '<!DOCTYPE html>Are you human?', '', 'a challenge page'],
  ['a human', '<html>you are a human', '', 'a challenge page'],
  ['a captcha', '<html>captcha', '', 'a challenge page'],
  ['a page', '<html>Signal of logs', '', 'a web page'],
])('%s is told by name', (_, head, tail, really, size = 900) => {
  const nature = fileNature(size, head, tail)
  expect(nature).toMatchObject({ pdf: false, really })
  expect(nature.said).toMatch(/^[A-Z].*\.$/)
})

test('a web page is told by its title, where it has one', () => {
  const said = (head: string) => fileNature(9, head, '').said
  expect(said('<html><title lang="en">  Lamps and moths </title>')).toBe(
    'A web page came in place of the PDF ("Lamps and moths").',
  )
  expect(said(`<html><title>${'x'.repeat(300)}</title>`)).toContain(`("${'x'.repeat(120)}")`)
  expect(said('<html><title>  </title>')).toBe('A web page came in place of the PDF.')
  expect(said('<html>')).toBe('A web page came in place of the PDF.')
})
