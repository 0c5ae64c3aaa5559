// Wiring diagram: one landscape page, A4 or A3, to be pinned in the vehicle; schedules on the next. Data as JSON, drawing as SVG.
#import "letterhead.typ": corner
#let d = json(bytes(sys.inputs.data))
#let copper = rgb("#A4552A")
#let muted = rgb("#5C6060")
#let hair = 0.5pt + rgb("#B9B2A4")
#set document(title: d.title, date: none)
#set page(paper: d.paper, flipped: true, margin: (x: 11mm, top: 10mm, bottom: 12mm), footer: context [
  #set text(size: 7.5pt, fill: muted)
  #d.caution #h(1fr) #d.title #d.code · version #d.version · page #counter(page).display() of #counter(page).final().first()])
#set text(font: ("Barlow", "DejaVu Sans Mono"), stretch: 87.5%, size: 9pt, fill: rgb("#20262B"), number-type: "lining")
#set par(leading: 0.45em)
#grid(columns: (1fr, auto), align: (left + bottom, right + bottom),
  [#text(size: 15pt, weight: 600)[Wiring diagram · #d.title] #h(6pt) #text(fill: muted)[#d.code #d.customer]
   #if d.state != "" [#h(10pt) #text(weight: 600, fill: rgb("#A3262A"))[■ #d.state]]],
  [#corner(d.house, 9pt) #text(fill: muted)[printed #d.printed]])
#line(length: 100%, stroke: hair)
#v(1fr)
#image(bytes(sys.inputs.svg), format: "svg", width: 100%, height: if d.paper == "a3" { 245mm } else { 160mm }, fit: "contain")
#v(1fr)
#pagebreak()
#text(size: 13pt, weight: 600)[Conductors]
#table(columns: (auto, auto, auto, auto, 1fr, auto, 1fr, auto), column-gutter: 6pt, stroke: (_, _) => (bottom: hair), inset: (x: 0pt, y: 2.4pt),
  table.header(..("Name", "Size", "Path", "Cut", "From", "Torque", "To", "Torque").map(t => text(fill: muted, size: 8pt, t))),
  ..d.conductors.map(c => (text(weight: 600, c.id), c.size, c.length, c.cut, c.a, c.a_torque, c.b, c.b_torque)).flatten())
#text(size: 13pt, weight: 600)[Devices]
#table(columns: (auto, auto, 1fr), column-gutter: 10pt, stroke: (_, _) => (bottom: hair), inset: (x: 0pt, y: 2.4pt),
  ..d.devices.map(c => (text(weight: 600, c.at(0)), c.at(1), c.at(2))).flatten())
