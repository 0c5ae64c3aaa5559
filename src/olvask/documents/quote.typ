// Quote: options side by side, then each one's parts and work. Data comes as JSON in sys.inputs.data.
#import "letterhead.typ": letterhead
#let d = json(bytes(sys.inputs.data))
#let copper = rgb("#A4552A")
#let muted = rgb("#5C6060")
#let madder = rgb("#A3262A")
#let hair = 0.5pt + rgb("#B9B2A4")
#let wide = d.options.len() > 2
#set document(title: "Quote " + d.title, date: none)
#set page(paper: "a4", flipped: wide, margin: (x: 15mm, top: 14mm, bottom: 15mm), footer: context [
  #set text(size: 8pt, fill: muted)
  #d.title #d.code · quote #d.number of #d.made · page #counter(page).display() of #counter(page).final().first()])
#set text(font: ("Barlow", "DejaVu Sans Mono"), stretch: 87.5%, size: 10pt, fill: rgb("#20262B"), number-type: "lining")
#set par(leading: 0.5em)
#letterhead(d.house)
#grid(columns: (1fr, auto), align: (left + bottom, right + bottom),
  [#text(size: 18pt, weight: 600)[Quote #d.number · #d.title] \ #text(fill: muted)[#d.customer #h(6pt) #d.code]],
  [#text(fill: muted)[made #d.made \ valid until] #text(weight: 600)[#d.valid]])
#line(length: 100%, stroke: hair)
#v(4pt)
#grid(columns: d.options.map(_ => 1fr), column-gutter: 8mm,
  ..d.options.map(o => [
    #text(size: 13pt, weight: 600)[#o.name] \ #text(fill: muted)[#o.unit]
    #if o.refused != "" [#block(above: 5pt)[#text(weight: 600, fill: madder)[■ #o.refused]]]
    #block(above: 8pt)[#text(size: 17pt, weight: 600, fill: copper)[#o.total] \ #text(fill: muted)[with #d.tax tax of #o.tax\; before it #(o.net)]]
    #block(above: 8pt)[#for line in o.does [✓ #line \ ]]
    #if o.unpriced != "" [#block(above: 6pt)[#text(weight: 600)[Not in the price] \ #o.unpriced]]
    #if o.will_not.len() > 0 [#block(above: 6pt)[#text(weight: 600)[What it will not do] \ #for line in o.will_not [– #line \ ]]]
    #block(above: 6pt)[#text(fill: muted)[parts #o.parts_total · work #o.hours, #o.labour]]
  ]))
#block(above: 12pt)[#text(weight: 600)[Not included:] #d.excluded.join("; ").]
#text(fill: muted)[Parts of a vehicle that prove faulty on opening are told before anything is done about them. The makers' instructions and local code rule.]
#grid(columns: (1fr, 1fr), column-gutter: 12mm, row-gutter: 14pt,
  [#v(18pt) #line(length: 100%, stroke: hair) #text(size: 8pt, fill: muted)[for the workshop, date]],
  [#v(18pt) #line(length: 100%, stroke: hair) #text(size: 8pt, fill: muted)[option chosen, customer, date]])
#for o in d.options [
  #pagebreak()
  #text(size: 14pt, weight: 600)[#o.name] #text(fill: muted)[· what it is made of]
  #grid(columns: (1.3fr, 1fr), column-gutter: 9mm,
    [#table(columns: (1fr, auto, auto, auto), column-gutter: 6pt, stroke: (_, _) => (bottom: hair), inset: (x: 0pt, y: 2.2pt), align: (left, right, right, right),
      table.header(..("Parts", "", "each", d.currency).map(t => text(fill: muted, size: 8pt, t))),
      ..o.parts.map(p => ([#p.what #text(fill: muted, size: 8pt, p.detail)], p.count, p.each, text(weight: 600, p.sum))).flatten(),
      table.footer([*Parts*], [], [], text(weight: 600, o.parts_total)))],
    [#table(columns: (1fr, auto, auto), column-gutter: 6pt, stroke: (_, _) => (bottom: hair), inset: (x: 0pt, y: 2.2pt), align: (left, right, right),
      table.header(..("Work", "hours", d.currency).map(t => text(fill: muted, size: 8pt, t))),
      ..o.work.map(p => ([#p.what #text(fill: muted, size: 8pt, p.detail)], p.count, text(weight: 600, p.sum))).flatten(),
      table.footer([*Work*], o.hours, text(weight: 600, o.labour)))])
]
