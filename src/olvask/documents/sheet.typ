// Hand-over sheet: one A4 landscape page. Data comes as JSON in sys.inputs.data, the diagram as SVG.
#import "letterhead.typ": corner
#let d = json(bytes(sys.inputs.data))
#let copper = rgb("#A4552A")
#let muted = rgb("#5C6060")
#let hair = 0.5pt + rgb("#B9B2A4")
#set document(title: d.title, date: none)
#set page(paper: "a4", flipped: true, margin: (x: 13mm, top: 11mm, bottom: 11mm))
#set text(font: ("Barlow", "DejaVu Sans Mono"), stretch: 87.5%, size: 8.6pt, fill: rgb("#20262B"), number-type: "lining")
#set par(leading: 0.45em)
#let head(body) = block(above: 6pt, below: 3.5pt, text(size: 9.5pt, weight: 600, fill: copper, body))
#let sign = (stop: "■", caution: "▲", note: "●")

#grid(columns: (1fr, auto), align: (left + bottom, right + bottom),
  [#text(size: 17pt, weight: 600)[#d.title] #h(6pt) #text(size: 11pt, fill: muted)[#d.code] \
   #text(fill: muted)[#d.customer] #if d.state != "" [#h(10pt) #text(weight: 600, fill: rgb("#A3262A"))[■ #d.state]]],
  [#corner(d.house, 12pt) \ #text(fill: muted)[version #d.version · printed #d.printed]])
#line(length: 100%, stroke: hair)
#let listed(rows, unit) = table(columns: (auto, 1fr), column-gutter: 6pt, stroke: (_, _) => (bottom: hair),
  inset: (x: 0pt, y: 0.22 * unit), align: (left, right), ..rows.map(((label, value)) => (label, text(weight: 600, value))).flatten())
#let columns-of(unit) = [
  #set text(size: unit)
  #grid(columns: (1.5fr, 1fr, 1.1fr), column-gutter: 7mm,
    [
      #head[Conductors]
      #table(columns: (auto, auto, auto, 1fr), column-gutter: 5pt, stroke: (_, _) => (bottom: hair), inset: (x: 0pt, y: 0.22 * unit),
        align: (left, left, left, left), ..d.conductors.map(((id, size, long, ends)) => (text(weight: 600, id), size, long, ends)).flatten())
      #head[Protection]
      #listed(d.devices, unit)
    ],
    [
      #head[Settings]
      #listed(d.settings, unit)
      #if d.wiring.len() > 0 [
        #head[Enable and relay]
        #listed(d.wiring, unit)
      ]
      #head[Expected values]
      #listed(d.values, unit)
    ],
    [
      #head[Findings]
      #if d.findings.len() == 0 [None above a note.]
      #for f in d.findings [
        #block(below: 3.5pt)[#text(weight: 600)[#sign.at(f.level) #upper(f.level) · #f.title.] #f.text]
      ]
      #if d.more > 0 [#text(fill: muted)[and #d.more more, see the job.]]
      #if d.left.len() > 0 [
        #head[Left of the work]
        #for row in d.left [#block(below: 2.5pt)[#text(weight: 600)[▲] #row]]
      ]
      #head[Cautions #h(4pt) #for s in d.signs [#box(baseline: 25%, image(bytes(s.svg), format: "svg", height: 13pt, alt: s.name)) ]]
      #set text(size: 0.9 * unit)
      #for c in d.cautions [#block(below: 2.5pt)[· #c]]
    ])
]
// As large as goes on the page: what is listed first gives up size, then the drawing height.
#let tries = ((8.4pt, 74mm), (7.8pt, 68mm), (7.2pt, 64mm), (6.8pt, 58mm), (6.4pt, 52mm), (6pt, 46mm), (5.6pt, 40mm), (5.2pt, 36mm), (5.2pt, 30mm))
#layout(size => {
  let fit = tries.find(((unit, tall)) => measure(block(width: size.width, columns-of(unit))).height + tall < size.height - 31mm)
  let (unit, tall) = if fit == none { tries.last() } else { fit }
  image(bytes(sys.inputs.svg), format: "svg", width: 100%, height: tall, fit: "contain")
  line(length: 100%, stroke: hair)
  columns-of(unit)
})
#place(bottom, [
  #line(length: 100%, stroke: hair)
  #grid(columns: (1fr, 1fr, 1fr), row-gutter: 3pt,
    [Installed by \_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_], [Meter \_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_], [Date \_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_ Signed \_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_])
])
