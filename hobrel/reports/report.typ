#set document(title: hobrel-title)
#set text(lang: "en", region: "GB")
#let ink = rgb("#2B2233")
#let pencil = rgb("#6B6272")
#let rule = rgb("#E4DACB")
#set page(
  paper: hobrel-paper,
  margin: (x: 22mm, top: 24mm, bottom: 20mm),
  header: context if counter(page).get().first() > 1 {
    set text(size: 8.5pt, fill: pencil)
    grid(columns: (1fr, auto), hobrel-title, hobrel-top)
  },
  footer: context {
    set text(size: 8.5pt, fill: pencil)
    align(center, [#counter(page).display() of #counter(page).final().first()])
  },
)
#set text(font: ("Hobrel Print", "Hobrel Print Extended", "Libertinus Serif", "DejaVu Sans Mono"), size: 10.5pt, fill: ink)
#set par(leading: 0.68em, spacing: 0.95em, justify: false)
#show math.equation: set text(font: "New Computer Modern Math")
#show math.equation.where(block: true): set align(left)
#show math.equation.where(block: true): it => pad(left: 6mm, y: 1mm, it)
#show heading.where(level: 1): it => block(below: 2.5mm, text(size: 20pt, fill: rgb("#5B2A5E"), it.body))
#show heading.where(level: 2): it => block(above: 6mm, below: 2.5mm, width: 100%, stroke: (bottom: 0.5pt + rule), inset: (bottom: 1.2mm), sticky: true, text(size: 12pt, it.body))
#show heading.where(level: 3): it => block(above: 4mm, below: 2mm, sticky: true, text(size: 10.5pt, it.body))
#set table(stroke: (x, y) => (bottom: if y == 0 { 0.9pt + ink } else { 0.4pt + rule }), inset: (x: 5pt, y: 3.6pt))
#show table: set text(size: 9.2pt)
#show table: set par(leading: 0.5em)
#show figure: set align(left)
#show figure.where(kind: table): set figure.caption(position: top)
#set figure(numbering: none, supplement: none, gap: 2.4mm)
#show figure.caption: it => align(left, text(fill: pencil, size: 9pt, it.body))
#set list(marker: ([•], [–]), indent: 1mm, body-indent: 2mm)
#let byline(body) = block(below: 5mm, text(fill: pencil, body))
#let quiet(body) = block(text(fill: pencil, size: 9.5pt, body))
#let note(body) = block(stroke: (left: 1.5pt + rgb("#B4552D")), inset: (left: 2.5mm, y: 1mm), text(style: "italic", body))
