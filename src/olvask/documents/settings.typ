// Settings sheet: one A4 page to key in by. Data comes as JSON in sys.inputs.data.
#import "letterhead.typ": corner
#let d = json(bytes(sys.inputs.data))
#let copper = rgb("#A4552A")
#let muted = rgb("#5C6060")
#let hair = 0.5pt + rgb("#B9B2A4")
#let many = d.lines.len() > 22
#set document(title: d.title, date: none)
#set page(paper: "a4", margin: (x: 15mm, top: 13mm, bottom: 13mm))
#set text(font: ("Barlow", "DejaVu Sans Mono"), stretch: 87.5%, size: if many { 8.4pt } else { 9.6pt }, fill: rgb("#20262B"), number-type: "lining")
#set par(leading: 0.45em)
#let box-of(on) = box(width: 10pt, height: 10pt, stroke: 0.8pt + rgb("#20262B"), baseline: 1.5pt, align(center + horizon, text(size: 8pt, if on { "✓" } else { "" })))

#grid(columns: (1fr, auto), align: (left + bottom, right + bottom),
  [#text(size: 17pt, weight: 600)[#d.title] #h(6pt) #text(size: 11pt, fill: muted)[#d.code] \
   #text(fill: muted)[#d.customer]],
  [#corner(d.house, 12pt) \ #text(fill: muted)[version #d.version · printed #d.printed]])
#line(length: 100%, stroke: hair)
#text(size: 13pt, weight: 600)[To key into #d.unit] #h(8pt) #text(fill: muted)[#d.text] \
#d.enter

#if d.lines.len() > 0 [
#table(columns: (auto, 1.25fr, auto, auto, 1.8fr, auto, auto, 24mm), column-gutter: 6pt, stroke: (_, _) => (bottom: hair), inset: (x: 0pt, y: if many { 2.2pt } else { 4pt }), align: (left, left, right, left, left, center, center, left),
  ..("", "Line", "Set to", "Was", "Why", "Keyed", "Read back", "By").map(t => text(fill: muted, size: 8pt, t)),
  ..d.lines.map(l => (
    text(fill: muted, str(l.number)), text(weight: 600, l.label), text(weight: 600, size: 1.15em, l.value), text(fill: muted, l.was),
    text(size: 0.9em, l.why), box-of(l.keyed), if l.reads { if l.seen != "" { l.seen } else { box-of(false) } } else { "" }, text(size: 0.85em, l.by))).flatten())
] else [#text(fill: muted)[Nothing to key.]]

#for m in d.misses [#block(below: 3pt)[#text(weight: 600)[▲] #m]]
#if d.save != "" [#block(above: 6pt)[#text(weight: 600, fill: copper)[#d.save]]]
#grid(columns: (1fr, 1fr), column-gutter: 9mm,
  [#if d.leave.len() > 0 [#block(above: 8pt, below: 3pt, text(weight: 600, fill: copper)[Leave as they are])
    #set text(size: 0.9em)
    #for l in d.leave [#l.at(0): #text(weight: 600, l.at(1)), #text(fill: muted, l.at(2)) \ ]]],
  [#if d.absent.len() > 0 [#block(above: 8pt, below: 3pt, text(weight: 600, fill: copper)[Do nothing here, or are not shown])
    #set text(size: 0.9em)
    #for l in d.absent [#l.at(0): #text(fill: muted, l.at(1)) \ ]]])
#if d.reset.len() > 0 [#block(above: 8pt)[#text(weight: 600)[▲ A reset of this unit loses:] #d.reset.join(", "). #d.remote]]
#block(above: 6pt)[Access code changed: #box-of(d.code_changed) #text(fill: muted)[yes; never write the code here]]
#block(above: 6pt, text(size: 0.85em, fill: muted)[The maker's instructions and local code rule. Read every value back after saving: a value that was not saved is the commonest fault.])
#place(bottom, [
  #line(length: 100%, stroke: hair)
  #grid(columns: (1fr, 1fr, 1fr), [Keyed by \_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_], [Date \_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_], [Signed \_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_\_])
])
