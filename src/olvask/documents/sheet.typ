// Hand-over sheet: one A4 landscape page. Data comes as JSON in sys.inputs.data, the diagram as SVG.
#let d = json(bytes(sys.inputs.data))
#let copper = rgb("#A4552A")
#let muted = rgb("#5C6060")
#let hair = 0.5pt + rgb("#B9B2A4")
#set document(title: d.title, date: none)
#set page(paper: "a4", flipped: true, margin: (x: 13mm, top: 11mm, bottom: 11mm))
#set text(font: ("Barlow", "DejaVu Sans Mono"), stretch: 87.5%, size: 8.6pt, fill: rgb("#20262B"), number-type: "lining")
#set par(leading: 0.45em)
#let head(body) = block(above: 7pt, below: 4pt, text(size: 10pt, weight: 600, fill: copper, body))
#let sign = (stop: "■", caution: "▲", note: "●")

#grid(columns: (1fr, auto), align: (left + bottom, right + bottom),
  [#text(size: 17pt, weight: 600)[#d.title] #h(6pt) #text(size: 11pt, fill: muted)[#d.code] \
   #text(fill: muted)[#d.customer] #if d.state != "" [#h(10pt) #text(weight: 600, fill: rgb("#A3262A"))[■ #d.state]]],
  [#text(weight: 600, size: 12pt, fill: copper)[Olvask] \ #text(fill: muted)[version #d.version · printed #d.printed]])
#line(length: 100%, stroke: hair)
#image(bytes(sys.inputs.svg), format: "svg", width: 100%, height: 74mm, fit: "contain")
#line(length: 100%, stroke: hair)

#grid(columns: (1fr, 1fr, 1.25fr), column-gutter: 9mm,
  [
    #head[Expected values]
    #table(columns: (auto, 1fr), column-gutter: 6pt, stroke: (_, _) => (bottom: hair), inset: (x: 0pt, y: 2pt), align: (left, right),
      ..d.values.map(((label, value)) => (label, text(weight: 600, value))).flatten())
  ],
  [
    #head[Settings]
    #table(columns: (auto, 1fr), column-gutter: 6pt, stroke: (_, _) => (bottom: hair), inset: (x: 0pt, y: 2pt), align: (left, right),
      ..d.settings.map(((label, value)) => (label, text(weight: 600, value))).flatten())
    #head[Cables and protection]
    #table(columns: (auto, 1fr), column-gutter: 6pt, stroke: (_, _) => (bottom: hair), inset: (x: 0pt, y: 2pt), align: (left, right),
      ..d.parts.map(((label, value)) => (label, text(weight: 600, value))).flatten())
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
    #head[Cautions]
    #set text(size: 7.6pt)
    #for c in d.cautions [#block(below: 2.5pt)[· #c]]
  ])
#place(bottom, [
  #line(length: 100%, stroke: hair)
  #grid(columns: (1fr, 1fr, 1fr), row-gutter: 3pt,
    [Installed by \_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_], [Meter \_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_], [Date \_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_ Signed \_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_])
])
