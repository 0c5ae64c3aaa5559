"""Looks at a page as it stands; each tells what it finds wrong, and nothing where all is well."""

from __future__ import annotations

import re
from pathlib import Path

from playwright.sync_api import Page

AXE = Path(__file__).parents[2] / "frontend/node_modules/axe-core/axe.min.js"
RULES = "['wcag2a','wcag2aa','wcag21a','wcag21aa','wcag22aa','best-practice']"
ASK = (
    # The library's focus traps are hidden from readers and reached by Tab on purpose.
    "axe.run({exclude: ['.p-hidden-focusable']}, {runOnly: "
    + RULES
    + ", resultTypes: ['violations']}).then((found) => found.violations.flatMap("
    "(rule) => rule.nodes.map((node) => rule.id + ': ' + node.html.slice(0, 160))))"
)
SCROLLED = (
    "axe.run(document, {runOnly: ['scrollable-region-focusable']}).then((found) => "
    "found.violations.flatMap((rule) => rule.nodes.map((node) => node.html.slice(0, 120))))"
)
# Controls shown, each with the box that takes the press: a label for a tick, the whole select for its words.
SMALL = """
(least) => {
  const found = new Set();
  const controls = 'button,a,input,textarea,[role=button],[role=tab],[role=combobox],[role=slider]';
  for (const item of document.querySelectorAll(controls)) {
    const held = item.closest('.p-select, label, [role=slider], .p-togglebutton') ?? item;
    const box = held.getBoundingClientRect();
    const shown = item.checkVisibility({ visibilityProperty: true, opacityProperty: false });
    if (!shown || box.width === 0 || item.closest('.visually-hidden, svg, p')) continue;
    if (Math.round(Math.max(box.height, item.getBoundingClientRect().height)) < least || box.width < 24)
      found.add(`${Math.round(box.width)}×${Math.round(box.height)} ${(item.ariaLabel || item.textContent).trim().slice(0, 30)}`);
  }
  return [...found];
}
"""
TINY = """
() => {
  const found = new Set();
  const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  while (walker.nextNode()) {
    const text = walker.currentNode, owner = text.parentElement;
    if (text.textContent.trim() && owner.checkVisibility() && parseFloat(getComputedStyle(owner).fontSize) < 12)
      found.add(text.textContent.trim().slice(0, 30));
  }
  return [...found];
}
"""
NAMELESS = """
() => [...document.querySelectorAll('button, a[href], input, select, textarea, [role=combobox], [role=tab], [role=slider], [role=checkbox], [role=option]')]
  .filter((at) => at.getClientRects().length > 0 && at.type !== 'file' && !at.closest('[aria-hidden=true]'))
  .filter((at) => {
    const by = (at.getAttribute('aria-labelledby') ?? '').split(' ').map((id) => document.getElementById(id)?.textContent ?? '').join('');
    const words = [at.getAttribute('aria-label'), by, at.labels?.[0]?.textContent, at.matches('input, select, textarea') ? '' : at.textContent, at.getAttribute('title')];
    return !words.some((text) => (text ?? '').trim() !== '');
  })
  .map((at) => at.outerHTML.slice(0, 160))
"""
# Everything that takes a press: by its role, or because the page listens to presses on it. One of a set walked by
# arrows is enough, and what only repeats a control beside it needs no stop of its own.
MARK = """
() => {
  const roles = 'button,a[href],input,select,textarea,[role=button],[role=combobox],[role=slider],[role=option],[role=tab]';
  const sets = '[role=tablist],[role=listbox],[role=radiogroup],[role=grid],[data-keys],.p-paginator,.p-selectbutton';
  let count = 0;
  for (const item of document.querySelectorAll('#app *, .p-drawer *, .p-dialog *')) {
    const key = Object.getOwnPropertySymbols(item).find((one) => one.description === '_vei');
    const listens = key && item[key].onClick && !item.closest('[data-also], td[role=cell], th:not([tabindex])');
    if (!item.matches(roles) && !listens) continue;
    if (!item.checkVisibility({ visibilityProperty: true }) || item.disabled || item.type === 'file') continue;
    if (item.closest('[aria-hidden=true], .visually-hidden, label, .p-disabled, [aria-disabled=true]')) continue;
    if (item.querySelector(roles)) continue; // a row whose own control does it
    const set = item.closest(sets);
    if (item.tabIndex < 0 && set && (set.tabIndex >= 0 || set.querySelector('[tabindex="0"], button, input'))) continue;
    if (item.tabIndex < 0 && item.closest('[tabindex="0"], button')) continue;
    item.dataset.wanted = String(count += 1);
  }
  return count;
}
"""
# Notes every control as it comes into focus, and those that do not show it.
WALKING = """
() => {
  const dull = window.__dull = [];
  const ring = (item) => { const style = getComputedStyle(item);
    return style.outlineStyle !== 'none' || style.boxShadow !== 'none'; };
  const note = ({ target: at }) => {
    const held = at.closest('.p-togglebutton, .p-checkbox, .p-select, .entry, label') ?? at;
    const shown = ring(at) || ring(held) || [...held.querySelectorAll('*')].slice(0, 6).some(ring) ||
      at.matches('input, .p-select, [role=combobox], [role=option], svg *') || held.matches('.p-select');
    at.dataset.walked = '1';
    const inner = at.closest('[data-wanted]'); if (inner) inner.dataset.walked = '1';
    if (!shown) dull.push(at.outerHTML.slice(0, 120));
  };
  if (window.__note) document.removeEventListener('focusin', window.__note);
  document.addEventListener('focusin', window.__note = note);
  document.activeElement?.blur(); getSelection()?.removeAllRanges();
}
"""
MISSED = """
() => [...document.querySelectorAll('[data-wanted]:not([data-walked])')].map((item) => item.outerHTML.slice(0, 160))
"""


def _checker(page: Page) -> None:
    """The checker put into a page that has not got it yet."""
    if not page.evaluate("'axe' in window"):
        page.evaluate(AXE.read_text(encoding="utf-8"))


def inaccessible(page: Page) -> list[str]:
    """By a checker of WCAG 2.2 AA."""
    _checker(page)
    found: list[str] = page.evaluate(ASK)
    return found


def out_of_reach(page: Page) -> list[str]:
    """What scrolls and has nothing in it that takes the focus, itself included."""
    _checker(page)
    found: list[str] = page.evaluate(SCROLLED)
    return found


def small(page: Page, least: int) -> list[str]:
    """Controls of less height than a thumb or a pointer needs [px], and text under 12 px."""
    return [*page.evaluate(SMALL, least), *(f"text {item}" for item in page.evaluate(TINY))]


def nameless(page: Page) -> list[str]:
    """Controls that cannot be called by a name."""
    found: list[str] = page.evaluate(NAMELESS)
    return found


# What is placed apart from the flow, in a part that scrolls without being its frame: it is cut off, and yet counts for the page.
HOLLOW = """() => [...document.querySelectorAll('body *')].flatMap(item => {
  if (getComputedStyle(item).position !== 'absolute' || item.getBoundingClientRect().bottom <= innerHeight) return []
  for (let at = item.parentElement; at && at !== document.body; at = at.parentElement) {
    const style = getComputedStyle(at)
    if (style.position !== 'static') return []
    if (/auto|scroll|hidden/.test(style.overflowY) && at.scrollHeight > at.clientHeight + 1)
      return [`${item.tagName} in ${at.tagName} ${at.className} makes the page longer than it is`]
  }
  return []
})"""


def hollow(page: Page) -> list[str]:
    """Parts that leave empty ground below the page, to which a wheel scrolls.

    Args:
        page: it.
    """
    return list(dict.fromkeys(page.evaluate(HOLLOW)))


def sideways(page: Page) -> list[str]:
    """Whether the page itself scrolls sideways."""
    wide: int = page.evaluate("document.documentElement.scrollWidth - innerWidth")
    return [f"{wide} px too wide"] if wide > 0 else []


def too_tall(page: Page) -> list[str]:
    """Whether the page itself scrolls, and takes the level line away with it; at the desk its benches do instead."""
    tall: int = page.evaluate("document.documentElement.scrollHeight - innerHeight")
    return [f"{tall} px too tall"] if tall > 0 else []


def filed(page: Page) -> list[str]:
    """Days written as files have them, where a reader should have them as his own."""
    days = re.findall(r".{0,30}\b(?:19|20)\d\d-\d\d-\d\d\b", page.locator("body").inner_text())
    return [f"a day as files have it: {day}" for day in days]


# A ring around each control that can have one, as far as it is not scrolled out of sight: which a box around it cuts off.
RINGS = """
() => {
  const cut = [], was = document.activeElement
  const shown = (item) => item.getClientRects().length > 0 && getComputedStyle(item).visibility !== 'hidden'
  const sides = (ring, box, parent) => {
    const left = box.left + parent.clientLeft, top = box.top + parent.clientTop
    const right = left + parent.clientWidth, bottom = top + parent.clientHeight
    const style = getComputedStyle(parent), grow = ring.grow - 0.6, found = []
    const past = (from, edge) => from <= 0.5 && from + grow > 0 && edge
    if (style.overflowY !== 'visible') {
      if (past(top - ring.box.top, parent.scrollTop <= 0)) found.push('top')
      if (past(ring.box.bottom - bottom, parent.scrollTop + parent.clientHeight >= parent.scrollHeight - 1)) found.push('bottom')
    }
    if (style.overflowX !== 'visible') {
      if (past(left - ring.box.left, parent.scrollLeft <= 0)) found.push('left')
      if (past(ring.box.right - right, parent.scrollLeft + parent.clientWidth >= parent.scrollWidth - 1)) found.push('right')
    }
    return found
  }
  for (const item of document.querySelectorAll('button, a[href], input, select, textarea, [tabindex]')) {
    if (item.tabIndex < 0 || item.disabled || !shown(item)) continue
    item.focus({ focusVisible: true })
    const style = getComputedStyle(item)
    const grow = style.outlineStyle === 'none' ? 0 : parseFloat(style.outlineWidth) + parseFloat(style.outlineOffset)
    if (document.activeElement !== item || !(grow > 0)) continue
    for (let box = item.parentElement; box && box !== document.body; box = box.parentElement) {
      const found = sides({ box: item.getBoundingClientRect(), grow }, box.getBoundingClientRect(), box)
      const name = (item.getAttribute('aria-label') || item.textContent || item.id || item.tagName).trim().slice(0, 40)
      if (found.length) cut.push(`${name}, ${found.join(' and ')}, by .${box.className}`)
      if (found.length || getComputedStyle(box).position === 'fixed') break
    }
  }
  was?.focus?.()
  return cut
}
"""


def cut_rings(page: Page) -> list[str]:
    """Controls whose ring of focus is cut off at a side."""
    return [f"ring cut off: {item}" for item in page.evaluate(RINGS)]


# What stands in an empty field against the room within it, and what is chosen in a list: what is longer is cut off.
CRAMPED = """
() => {
  const pen = document.createElement('canvas').getContext('2d'), cut = []
  for (const field of document.querySelectorAll('input:not([type=checkbox]):not([type=radio]):not([type=file])')) {
    // Numbers and what stands there while it is empty; somebody's own words may be as long as they like.
    const text = field.value ? (field.inputMode === 'decimal' ? field.value : '') : field.placeholder
    const style = getComputedStyle(field), size = getComputedStyle(field, field.value ? null : '::placeholder').fontSize
    if (!text || !field.getClientRects().length || style.visibility === 'hidden') continue
    pen.font = `${style.fontStyle} ${style.fontWeight} ${size} ${style.fontFamily}`
    const room = field.clientWidth - parseFloat(style.paddingLeft) - parseFloat(style.paddingRight)
    const wide = pen.measureText(text).width
    if (wide > room + 1) cut.push(`${field.ariaLabel || field.id || 'a field'}: “${text}” is ${Math.ceil(wide - room)} px too long`)
  }
  for (const label of document.querySelectorAll('.p-select-label, .p-multiselect-label')) {
    if (!label.getClientRects().length || label.scrollWidth <= label.clientWidth + 1) continue
    cut.push(`${label.ariaLabel || label.closest('[data-path]')?.dataset.path || label.id}: “${label.textContent.trim()}”`)
  }
  return cut
}
"""


def cramped(page: Page) -> list[str]:
    """Fields in which what stands there while they are empty, or what is chosen, is cut off."""
    return [f"cut off: {item}" for item in page.evaluate(CRAMPED)]


# Words of a drawing against one another, against its frame, and against every stroke that is drawn over them: one below is parted by a halo.
# A letter within a shape (a pin's count, a machine's G) stands on the shape's own ground.
STRUCK = """
() => {
  const found = new Set(), seen = (item) => item.checkVisibility({ visibilityProperty: true, opacityProperty: true })
  const boxed = (text) => {
    const box = text.getBoundingClientRect(), style = getComputedStyle(text), half = box.height / 4
    return { text, words: text.textContent.trim().slice(0, 40), left: box.left + 1, right: box.right - 1,
      top: (box.top + box.bottom) / 2 - half, bottom: (box.top + box.bottom) / 2 + half,
      halo: style.stroke !== 'none' && style.paintOrder.includes('stroke') }
  }
  for (const svg of document.querySelectorAll('svg')) {
    const texts = [...svg.querySelectorAll('text')].filter((item) => item.textContent.trim().length > 1 && seen(item)).map(boxed)
    texts.forEach((one, at) => texts.slice(at + 1).forEach((two) => {
      if (one.left < two.right && two.left < one.right && one.top < two.bottom && two.top < one.bottom)
        found.add(`“${two.words}” lies on “${one.words}”`)
    }))
    const frame = svg.getBoundingClientRect(), moved = svg.closest('.diagram') // about in its frame
    const cuts = !moved && getComputedStyle(svg).overflow !== 'visible'
    for (const one of cuts ? texts : [])
      if (one.left < frame.left || one.right > frame.right || one.top < frame.top || one.bottom > frame.bottom)
        found.add(`“${one.words}” is cut off by its drawing`)
    for (const path of texts.length ? svg.querySelectorAll('path, line, polyline, rect, circle') : []) {
      const style = getComputedStyle(path), place = path.getBoundingClientRect()
      if (style.stroke === 'none' || !seen(path) || path.closest('defs')) continue
      const near = texts.filter((item) => place.left < item.right && place.right > item.left && place.top < item.bottom &&
        place.bottom > item.top && (!item.halo || item.text.compareDocumentPosition(path) & Node.DOCUMENT_POSITION_FOLLOWING))
      if (!near.length) continue
      const onto = path.getScreenCTM(), long = path.getTotalLength(), steps = Math.min(4000, Math.ceil(long * Math.hypot(onto.a, onto.b)))
      for (let step = 0; step <= steps; step += 1) {
        const at = path.getPointAtLength((long * step) / Math.max(1, steps)).matrixTransform(onto)
        for (const item of near)
          if (at.x > item.left && at.x < item.right && at.y > item.top && at.y < item.bottom)
            found.add(`“${item.words}” is crossed by ${path.tagName} ${path.getAttribute('class') ?? ''}`)
      }
    }
  }
  return [...found]
}
"""


def struck(page: Page) -> list[str]:
    """Words of a drawing through which a line goes, that lie on others, or that are cut off."""
    found: list[str] = page.evaluate(STRUCK)
    return found


def unreached(page: Page) -> list[str]:
    """Controls that Tab does not reach, and what does not show that it is in focus."""
    wanted = page.evaluate(MARK)
    assert wanted > 3
    page.evaluate(WALKING)
    for _ in range(wanted + 60):
        page.keyboard.press("Tab")
    dull: list[str] = page.evaluate("() => window.__dull")
    return [*(f"no ring: {item}" for item in dull), *(f"never reached: {item}" for item in page.evaluate(MISSED))]


ENLARGING = """
() => [...document.querySelectorAll('input:not([type=checkbox], [type=radio], [type=file], [type=range]), textarea, select')]
  .filter((at) => at.checkVisibility() && parseFloat(getComputedStyle(at).fontSize) < 16)
  .map((at) => `${(at.ariaLabel || at.id || at.labels?.[0]?.textContent || at.outerHTML).trim().slice(0, 40)}: under 16 px`)
"""


def enlarging(page: Page) -> list[str]:
    """Entries at which some phones enlarge the whole page as soon as somebody types: text under 16 px."""
    found: list[str] = page.evaluate(ENLARGING)
    return found
