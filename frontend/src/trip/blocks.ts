/** A programme's text as blocks on a timeline, and back: every line one block, words it does not know left as they are. */
import { plainNumber } from '../ui/number'

export const ENGINES = ['off', 'crank', 'idle', 'cruise', 'low'] as const
export type Engine = (typeof ENGINES)[number]
export const UNITS = { s: 1, min: 60, h: 3600, d: 86400 } as const
export type Unit = keyof typeof UNITS

export interface Block {
  kind: 'stretch' | 'repeat' | 'end' | 'other'
  engine: Engine
  amount: number
  unit: Unit
  more: string
  text: string
}

const blank = { engine: 'off' as Engine, amount: 1, unit: 'min' as Unit, more: '' }

/** Lines as blocks; empty lines fall away. */
export function blocksOf(text: string): Block[] {
  return text
    .split('\n')
    .map((line) => line.trim())
    .filter((line) => line !== '')
    .map((line) => {
      const stretch = /^(off|crank|idle|cruise|low)\s+([\d.,]+)\s*(s|min|h|d)\b\s*(.*)$/.exec(line)
      // What is no number for certain is left as it stands: drawn as a block it would be written anew as another.
      const amount = stretch ? plainNumber(stretch[2] ?? '') : null
      if (stretch && amount !== null)
        return {
          kind: 'stretch',
          engine: stretch[1] as Engine,
          amount,
          unit: stretch[3] as Unit,
          more: stretch[4] ?? '',
          text: line,
        }
      const repeat = /^repeat\s+(\d+)$/.exec(line)
      if (repeat) return { ...blank, kind: 'repeat', amount: Number(repeat[1]), text: line }
      return { ...blank, kind: line === 'end' ? 'end' : 'other', text: line }
    })
}

/** A block as its line. */
export function lineOf(block: Block): string {
  if (block.kind === 'stretch')
    return `${block.engine} ${block.amount} ${block.unit}${block.more ? ` ${block.more}` : ''}`
  return block.kind === 'repeat' ? `repeat ${block.amount}` : block.text
}

/** Blocks as text, what stands within a repeat indented. */
export function textOf(blocks: readonly Block[]): string {
  let depth = 0
  return (
    blocks
      .map((block) => {
        if (block.kind === 'end') depth = Math.max(0, depth - 1)
        const line = '  '.repeat(depth) + lineOf(block)
        if (block.kind === 'repeat') depth += 1
        return line
      })
      .join('\n') + '\n'
  )
}

export const secondsOf = (block: Block): number => block.amount * UNITS[block.unit]

/** How wide a block stands: longer is wider, but a crank is still to be seen beside a night. */
export const widthOf = (block: Block): number =>
  block.kind === 'stretch' ? 1 + Math.log10(1 + secondsOf(block) / 10) * 2.2 : 1

/** A duration in the unit people would say it in. */
export function tidy(seconds: number): { amount: number; unit: Unit } {
  const unit: Unit = seconds < 120 ? 's' : seconds < 7200 ? 'min' : seconds < 172800 ? 'h' : 'd'
  const amount = seconds / UNITS[unit]
  return { amount: Math.max(1, amount >= 10 ? Math.round(amount) : Math.round(amount * 2) / 2), unit }
}
