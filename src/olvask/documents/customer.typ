// The customer's page, large and plain. Data comes as JSON in sys.inputs.data.
#import "letterhead.typ": letterhead
#let d = json(bytes(sys.inputs.data))
#let copper = rgb("#A4552A")
#let muted = rgb("#5C6060")
#set document(title: "Your vehicle: " + d.title, date: none)
#set page(paper: "a4", margin: (x: 20mm, top: 16mm, bottom: 16mm), footer: context [
  #set text(size: 8.5pt, fill: muted)
  #d.title #d.code · #d.revision · printed #d.printed · page #counter(page).display() of #counter(page).final().first()])
#set text(font: ("Barlow", "DejaVu Sans Mono"), size: 11.5pt, fill: rgb("#20262B"), lang: "en")
#set par(leading: 0.62em)
#show heading.where(level: 2): it => block(above: 14pt, below: 7pt, text(size: 13pt, weight: 600, fill: copper, it.body))
#letterhead(d.house)
#heading(level: 1, text(size: 21pt, weight: 600)[Your vehicle: #d.title])
#text(fill: muted)[#d.customer #h(8pt) #d.code]
#if d.stops > 0 [#block(above: 8pt)[#text(weight: 600, fill: rgb("#A3262A"))[■ Not ready to be used: the workshop has something to mend first.]]]
#for part in d.parts [
  #heading(level: 2, part.head)
  #list(marker: [·], spacing: 0.75em, ..part.lines)
]
