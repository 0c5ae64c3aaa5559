// The installer's report of one revision. Data comes as JSON in sys.inputs.data, the diagram as SVG.
#import "letterhead.typ": letterhead
#let d = json(bytes(sys.inputs.data))
#let copper = rgb("#A4552A")
#let muted = rgb("#5C6060")
#let madder = rgb("#A3262A")
#let hair = 0.5pt + rgb("#B9B2A4")
#set document(title: "Report " + d.title, date: none)
#set page(paper: "a4", margin: (x: 16mm, top: 15mm, bottom: 16mm),
  background: if d.draft { rotate(-32deg, text(size: 120pt, weight: 700, fill: rgb("#20262B12"))[draft]) },
  footer: context [
    #set text(size: 7.5pt, fill: muted)
    #d.title #d.code · version #d.version · printed #d.printed · page #counter(page).display() of #counter(page).final().first() \
    checksum #d.checksum])
#set text(font: ("Barlow", "DejaVu Sans Mono"), stretch: 87.5%, size: 9.5pt, fill: rgb("#20262B"), number-type: "lining", lang: "en")
#set par(leading: 0.48em)
#show heading.where(level: 2): it => block(above: 13pt, below: 6pt, text(size: 12.5pt, weight: 600, fill: copper, it.body))
#let rows(columns, header, body) = table(columns: columns, column-gutter: 8pt, stroke: (_, _) => (bottom: hair), inset: (x: 0pt, y: 2.3pt), align: left,
  table.header(..header.map(t => text(fill: muted, size: 8pt, t))), ..body.flatten())
#letterhead(d.house)
#heading(level: 1, text(size: 20pt, weight: 600)[Report · #d.title])
#text(fill: muted)[#d.customer #h(6pt) #d.code #h(6pt) version #d.version]
#line(length: 100%, stroke: hair)
#if d.stops.len() > 0 [#block[#text(weight: 600, fill: madder)[■ Not to be built or used as it stands: #d.stops.join("; ").]]]
#if d.draft [#block[#text(weight: 600)[Draft: this revision is not signed off.]]] else [
  #block[#text(weight: 600)[Signed off, no. #d.signed.number, by #d.signed.by on #d.signed.at (UTC), with #d.signed.meter.] #if d.signed.proven [Every test it is signed off by was done and right.] else [Not every test was done and right; see what was accepted.]]]
#if d.changes.len() > 0 [#block[#text(weight: 600)[Changed since #d.since:] #d.changes.join("; ").]]
#if not d.draft and d.signed.accepted.len() > 0 [
  == Accepted one by one
  #for a in d.signed.accepted [▲ #text(weight: 600, a.title) #text(fill: muted, a.text) \ ]]
== Design
#rows((auto, 1fr), ("what", "as designed"), d.design.map(r => (text(fill: muted, r.at(0)), r.at(1))))
#block(above: 8pt, image(bytes(sys.inputs.svg), format: "svg", width: 100%, height: 92mm, fit: "contain", alt: "Wiring diagram of the job"))
== Conductors
#rows((auto, auto, auto, 1fr, 1fr), ("name", "size", "cut", "from", "to"), d.conductors.map(c => (text(weight: 600, c.id), c.size, c.length, c.from, c.to)))
== Parts
#rows((1fr, 1fr, auto), ("part", "", "count"), d.parts.map(p => (p.what, text(fill: muted, p.detail), p.count)))
== Settings, as keyed and read back
#if d.keyed.len() == 0 [Nothing was ticked as keyed.] else [#rows((1fr, auto, auto, auto, auto), ("line", "keyed", "read back", "by", "when"), d.keyed.map(k => (k.line, k.value, k.seen, k.by, k.at)))]
== Tests
#rows((1fr, auto, auto), ("test", "read", "verdict"), d.tests.map(t => (t.text, t.read, text(weight: 600, fill: if t.bad { madder } else { black }, t.verdict))))
== Findings
#if d.findings.len() == 0 [None.] else [#for f in d.findings [#f.mark #text(weight: 600, f.title) #text(fill: muted, f.text) \ ]]
== Left of the work
#if d.left.len() == 0 [Nothing: every step is done.] else [#list(..d.left)]
#if d.photographs.len() > 0 [
  == Photographs
  #grid(columns: (1fr, 1fr, 1fr), gutter: 4mm, ..d.photographs.map(p => block(breakable: false)[
    #if p.svg != "" [#image(bytes(p.svg), format: "svg", width: 100%, alt: p.words) \ ]
    #text(fill: muted, size: 8pt, p.words)]))]
== Workings
#rows((1fr, auto, 1.6fr), ("figure", "", "how"), d.figures.map(f => (f.label, text(weight: 600, f.value), text(fill: muted, size: 8pt, f.working))))
== Cautions
#for s in d.signs [#box(image(bytes(s.svg), format: "svg", height: 18pt, alt: s.name)) #h(4pt)]

#list(..d.cautions)
