// The workshop's own mark; nothing where it has none.
#let mark(house, height) = if house.picture.len() > 0 { box(image(bytes(house.picture), format: "png", height: height, alt: "mark of the workshop")) }
// Who the paper is from: the workshop's mark, its name and how to reach it; nothing where it has none.
#let letterhead(house) = if house.name != "" or house.picture.len() > 0 [
  #grid(columns: (auto, auto, 1fr), column-gutter: (if house.picture.len() > 0 { 8pt } else { 0pt }, 14pt),
    align: (left + bottom, left + bottom, right + bottom),
    mark(house, 26pt),
    text(size: 12pt, weight: 600, house.name),
    text(size: 8pt, fill: rgb("#5C6060"), house.lines.join(" · ")))
  #v(-3pt)
  #line(length: 100%, stroke: 0.5pt + rgb("#B9B2A4"))
  #v(4pt)
]
// The corner of a one-page sheet: the workshop, or who made the sheet.
#let corner(house, size) = if house.name == "" and house.picture.len() == 0 { text(weight: 600, size: size, fill: rgb("#A4552A"))[Olvask] } else [
  #mark(house, 1.5 * size) #text(weight: 600, size: size, fill: rgb("#A4552A"), house.name)
  #if house.lines.len() > 0 [#text(size: 0.62 * size, fill: rgb("#5C6060"), house.lines.last())]]
