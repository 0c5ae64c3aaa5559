// Who the paper is from: the workshop's name and how to reach it; nothing where it has none.
#let letterhead(house) = if house.name != "" [
  #grid(columns: (auto, 1fr), column-gutter: 14pt, align: (left + bottom, right + bottom),
    text(size: 12pt, weight: 600, house.name),
    text(size: 8pt, fill: rgb("#5C6060"), house.lines.join(" · ")))
  #v(-3pt)
  #line(length: 100%, stroke: 0.5pt + rgb("#B9B2A4"))
  #v(4pt)
]
// The corner of a one-page sheet: the workshop, or who made the sheet.
#let corner(house, size) = if house.name == "" { text(weight: 600, size: size, fill: rgb("#A4552A"))[Olvask] } else [
  #text(weight: 600, size: size, fill: rgb("#A4552A"), house.name)
  #if house.lines.len() > 0 [#text(size: 0.62 * size, fill: rgb("#5C6060"), house.lines.last())]]
