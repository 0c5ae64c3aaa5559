// Record of tests: by group, each with its band, every reading kept, and the verdict. Data comes as JSON in sys.inputs.data.
#import "letterhead.typ": letterhead
#let d = json(bytes(sys.inputs.data))
#let muted = rgb("#5C6060")
#let madder = rgb("#A3262A")
#let hair = 0.5pt + rgb("#B9B2A4")
#set document(title: "Record of tests " + d.title, date: none)
#set page(paper: "a4", margin: (x: 15mm, top: 14mm, bottom: 15mm), footer: context [
  #set text(size: 8pt, fill: muted)
  #d.title #d.code · record of tests, printed #d.printed · page #counter(page).display() of #counter(page).final().first()])
#set text(font: ("Barlow", "DejaVu Sans Mono"), stretch: 87.5%, size: 9.5pt, fill: rgb("#20262B"), number-type: "lining")
#set par(leading: 0.45em)
#letterhead(d.house)
#grid(columns: (1fr, auto), align: (left + bottom, right + bottom),
  [#text(size: 18pt, weight: 600)[Record of tests · #d.title] \ #text(fill: muted)[#d.customer #h(6pt) #d.code]],
  [#text(fill: muted)[measured by #d.people.join(", ") \ printed #d.printed]])
#line(length: 100%, stroke: hair)
#block(above: 6pt)[#text(size: 11pt, weight: 600, d.text)]
#for v in d.visits [#block(above: 3pt)[#v.text #text(fill: muted)[#v.by, #v.at]]]
#for c in d.cures [#block(above: 3pt)[✓ #c.text #text(fill: muted)[#c.by, #c.at]]]
#for g in d.groups [
  #heading(level: 2, text(size: 11pt, g.name))
  #table(columns: (1.5fr, auto, 1.3fr, auto), column-gutter: 7pt, stroke: (_, _) => (bottom: hair), inset: (x: 0pt, y: 2.4pt),
    align: (left, left, left, left),
    table.header(..("Test", "Should be", "Read", "Verdict").map(t => text(fill: muted, size: 8pt, t))),
    ..g.rows.map(r => (
      [#r.text #text(fill: muted, size: 8pt)[#r.where] #if r.note != "" [#text(fill: muted, size: 8pt)[#r.note]]],
      r.band,
      if r.readings.len() == 0 [–] else [#for e in r.readings [#text(weight: if e.last { 600 } else { 400 }, fill: if e.last { black } else { muted })[#e.value] #text(fill: muted, size: 8pt)[#e.by, #e.at, #(e.with)#if e.bygone != "" [, #e.bygone] else if not e.last [, measured again]] \ ]],
      text(weight: 600, fill: if r.bad { madder } else { black }, r.verdict))).flatten())
]
#heading(level: 2, text(size: 11pt)[Each leg, designed and found])
#table(columns: (1fr, auto, auto, 1.6fr), column-gutter: 9pt, stroke: (_, _) => (bottom: hair), inset: (x: 0pt, y: 2.4pt), align: (left, right, right, left),
  table.header(..("Leg", "designed mΩ", "found mΩ", "").map(t => text(fill: muted, size: 8pt, t))),
  ..d.legs.map(l => (l.words, l.designed, l.found, text(fill: if l.bad { madder } else { black }, l.text))).flatten())
#block(above: 10pt)[#text(fill: muted)[A band holds 95 of 100 healthy vehicles built as this design says, at the volts read here. The makers' instructions and local code rule; work on vehicles and batteries belongs in trained hands.]]
