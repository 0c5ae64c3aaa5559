// Labels: flags of 62 by 18 mm, three across on A4, each text twice so that it reads from both sides when folded.
#let d = json(bytes(sys.inputs.data))
#let hair = 0.4pt + rgb("#B9B2A4")
#set page(paper: "a4", margin: (x: 10mm, y: 12mm))
#set text(font: ("Barlow Semi Condensed", "Barlow", "DejaVu Sans Mono"), size: 8.5pt, fill: rgb("#20262B"))
#set par(leading: 0.35em)
#let side(lines) = block(width: 31mm, height: 18mm, inset: 2mm, {
  text(size: 11pt, weight: 600, lines.at(0))
  linebreak()
  lines.at(1)
  linebreak()
  lines.at(2)
})
#grid(columns: (62mm, 62mm, 62mm), gutter: 1.5mm,
  ..d.labels.map(lines => rect(width: 62mm, height: 18mm, inset: 0mm, stroke: hair,
    grid(columns: (31mm, 31mm), side(lines), grid.vline(stroke: (thickness: 0.4pt, paint: rgb("#B9B2A4"), dash: "dashed")), side(lines)))))
