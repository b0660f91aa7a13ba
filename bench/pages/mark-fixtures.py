"""Writes files that others marked, for the tests: the texts of known words, marked by programs of three makers.
/usr/bin/python3 bench/pages/mark-fixtures.py $PWD/server/child/foreign (Debian: python3-fitz, python3-pypdf, gir1.2-poppler-0.18, python3-gi)"""
import json, os, re, sys
import fitz, gi
gi.require_version('Poppler', '0.18')
from gi.repository import Poppler
import pypdf
from pypdf.generic import (ArrayObject, DictionaryObject, FloatObject, NameObject, TextStringObject)

HERE = sys.argv[1]
BY = 'Mara Zorin'

def words_of(page):
    return [(fitz.Rect(w[:4]), w[4]) for w in page.get_text('words', sort=False)]

def lines_of(page, first, count):
    """Rectangles of some words in the order of the text, one a line, and the words."""
    words = words_of(page)
    at = next(i for i in range(len(words)) if [w for _, w in words[i:i + len(first)]] == first)
    chosen = words[at:at + count]
    lines = []
    for r, _ in chosen:
        if lines and abs(lines[-1].y1 - r.y1) < 3 and r.x0 > lines[-1].x0: lines[-1] |= r
        else: lines.append(fitz.Rect(r))
    return lines, [w for _, w in chosen]

def joined(words):
    return re.sub(r'(\w)- (?=[a-z])', r'\1', ' '.join(words))

told = {}

# marked in a reader: two columns, a word cut at the end of a line, a sentence over two columns
doc = fitz.open(f'{HERE}/TeX.pdf')
page = doc[0]
marks = []
def said(kind, page, quote, note): marks.append({'kind': kind, 'page': page, 'quote': quote, 'note': note})
def by(annot, note='', **more):
    annot.set_info(title=BY, content=note, **more)
    annot.update()
lines, words = lines_of(page, ['Evidence', 'from', 'a', 'court'], 10)
by(page.add_highlight_annot(quads=[l.quad for l in lines]))
said('quoted', 1, joined(words), '')
lines, words = lines_of(page, ['Competing', 'explanations', 'invoke', 'air'], 9)
by(page.add_underline_annot(quads=[l.quad for l in lines]), 'Is chance plain? – “ask” Ørskov')
said('quoted', 1, joined(words), 'Is chance plain? – “ask” Ørskov')
lines, words = lines_of(page, ['Here,', 'interviews', 'permits'], 8)
by(page.add_squiggly_annot(quads=[l.quad for l in lines]), 'Grammar.')
said('quoted', 1, joined(words), 'Grammar.')
by(page.add_rect_annot(fitz.Rect(72, 225, 510, 272)), 'The whole summary.')
said('figure', 1, '', 'The whole summary.')
by(page.add_text_annot(fitz.Point(540, 300), 'x', icon='Note'), 'Read again\nfrom here.')
said('in my words', 1, '', 'Read again\nfrom here.')
by(page.add_freetext_annot(fitz.Rect(310, 40, 500, 70), 'Typed on the page', fontsize=9), 'Typed on the page')
said('in my words', 1, '', 'Typed on the page')
# struck out by whoever read it: no words to keep, and nothing said of them
lines, words = lines_of(page, ['Attention', 'to', 'night', 'in', 'novels', 'dates'], 4)
by(page.add_strikeout_annot(quads=[l.quad for l in lines]))
said('quoted', 1, joined(words), '')
page.insert_link({'kind': fitz.LINK_URI, 'from': fitz.Rect(72, 700, 200, 720), 'uri': 'https://a.example/'})
doc.save(f'{HERE}/marked-reader.pdf', garbage=0)
told['marked-reader'] = marks

# the same library as many desktops have, on a text of one column
src = Poppler.Document.new_from_file(f'file://{HERE}/office.pdf')
ref = fitz.open(f'{HERE}/office.pdf')
marks = []
page, plain = src.get_page(0), ref[0]
height = plain.rect.height
def quad(r):
    q = Poppler.Quadrilateral.new()
    p = lambda x, y: (lambda z: (setattr(z, 'x', x), setattr(z, 'y', height - y), z)[2])(Poppler.Point.new())
    q.p1, q.p2, q.p3, q.p4 = p(r.x0, r.y0), p(r.x1, r.y0), p(r.x0, r.y1), p(r.x1, r.y1)
    return q
def rect(r):
    out = Poppler.Rectangle.new()
    out.x1, out.y1, out.x2, out.y2 = r.x0, height - r.y1, r.x1, height - r.y0
    return out
everything = [w for _, w in words_of(plain)]
start = next(i for i, w in enumerate(everything) if i > 60 and re.match(r'^[A-Z]', w) and everything[i - 1].endswith('.'))
lines, words = lines_of(plain, everything[start:start + 5], 17)
around = fitz.Rect(lines[0])
for l in lines: around |= l
annot = Poppler.AnnotTextMarkup.new_highlight(src, rect(around), [quad(l) for l in lines])
annot.set_contents('A note – with “signs”, é and ж')
annot.set_label(BY)
c = Poppler.Color.new(); c.red, c.green, c.blue = 0, 50000, 20000
annot.set_color(c)
page.add_annot(annot)
said('quoted', 1, joined(words), 'A note – with “signs”, é and ж')
note = Poppler.AnnotText.new(src, rect(fitz.Rect(20, 100, 40, 120)))
note.set_contents('Beside the text'); note.set_label(BY)
page.add_annot(note)
said('in my words', 1, '', 'Beside the text')
src.save(f'file://{HERE}/marked-desktop.new')
os.replace(f'{HERE}/marked-desktop.new', f'{HERE}/marked-desktop.pdf')
told['marked-desktop'] = marks

# by a program: a page that is turned and cut, corners in another order, no picture of the mark, a reply to it
marks = []
reader = pypdf.PdfReader(f'{HERE}/roff.pdf')
out = pypdf.PdfWriter(); out.clone_document_from_reader(reader)
whole = fitz.open(f'{HERE}/roff.pdf')
plain = whole[1]
height = plain.rect.height
everything = [w for _, w in words_of(plain)]
start = next(i for i, w in enumerate(everything) if i > 30 and re.match(r'^[A-Z]', w) and everything[i - 1].endswith('.'))
lines, words = lines_of(plain, everything[start:start + 5], 12)
page = out.pages[1]
corners = []
for l in lines:
    top, foot = height - l.y0, height - l.y1
    # counter-clockwise, as the standard's picture has them and few programs do
    corners += [l.x0, foot, l.x1, foot, l.x1, top, l.x0, top]
xs, ys = corners[0::2], corners[1::2]
N, F = NameObject, FloatObject
mark = DictionaryObject({N('/Type'): N('/Annot'), N('/Subtype'): N('/Highlight'), N('/F'): pypdf.generic.NumberObject(4),
  N('/Rect'): ArrayObject([F(min(xs)), F(min(ys)), F(max(xs)), F(max(ys))]),
  N('/QuadPoints'): ArrayObject([F(v) for v in corners]), N('/C'): ArrayObject([F(1), F(.8), F(0)]),
  N('/T'): TextStringObject(BY), N('/Contents'): TextStringObject('From a script'), N('/M'): TextStringObject("D:20260912101500+02'00'")})
ref1 = out._add_object(mark)
reply = DictionaryObject({N('/Type'): N('/Annot'), N('/Subtype'): N('/Text'), N('/F'): pypdf.generic.NumberObject(4),
  N('/Rect'): ArrayObject([F(10), F(10), F(30), F(30)]), N('/IRT'): ref1, N('/T'): TextStringObject('Ivo Sand'),
  N('/Contents'): TextStringObject('I doubt it.')})
ref2 = out._add_object(reply)
gone = DictionaryObject({N('/Type'): N('/Annot'), N('/Subtype'): N('/Text'), N('/F'): pypdf.generic.NumberObject(2),
  N('/Rect'): ArrayObject([F(10), F(10), F(30), F(30)]), N('/Contents'): TextStringObject('Hidden')})
ref3 = out._add_object(gone)
page[N('/Annots')] = ArrayObject([ref1, ref2, ref3])
box = page.get('/MediaBox', page['/Parent'].get_object().get('/MediaBox'))
page[N('/Rotate')] = pypdf.generic.NumberObject(90)
page[N('/CropBox')] = ArrayObject([F(20), F(20), F(float(box[2]) - 10), F(float(box[3]) - 30)])
out.write(f'{HERE}/marked-script.pdf')
said('quoted', 2, joined(words), 'From a script\nIvo Sand: I doubt it.')
told['marked-script'] = marks
json.dump(told, open(f'{HERE}/marked.json', 'w'), ensure_ascii=False, indent=2)
