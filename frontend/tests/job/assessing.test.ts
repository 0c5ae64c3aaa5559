/** Asking, undoing and drafts: what happens when answers come late, wrong or not at all. */
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick, shallowRef } from 'vue'
import type { Design } from '../../src/api/types'
import { Refused, Unreachable } from '../../src/api/client'
import { useAssessing } from '../../src/job/assessing'
import { useHistory } from '../../src/job/history'

const asked = vi.hoisted(() => ({ answer: vi.fn() }))
vi.mock('../../src/api/client', async (original) => ({
  ...(await original<typeof import('../../src/api/client')>()),
  answered: () => asked.answer() as Promise<unknown>,
  client: { POST: () => null },
}))

const job = (name: string) => ({ vehicle: { alternator: { name } } }) as unknown as Design
const refusal = () =>
  new Refused({
    type: 'about:blank',
    title: 'Wrong',
    status: 422,
    detail: 'wrong',
    errors: [{ path: 'use.daily_ah', field: 'Daily use', message: 'is not a number' }],
  })
const outcome = () => ({ answered: vi.fn(), refused: vi.fn(), failed: vi.fn() })

describe('assessing', () => {
  beforeEach(() => {
    asked.answer.mockReset()
  })

  it('asks once more, for the newest draft, where it changed meanwhile', async () => {
    const answers: ((value: unknown) => void)[] = []
    asked.answer.mockImplementation(() => new Promise((done) => answers.push(done)))
    const draft = shallowRef<Design | null>(job('a'))
    const told = outcome()
    const { assess, sound } = useAssessing(draft, told)
    const all = assess()
    for (const name of ['b', 'c', 'd']) {
      draft.value = job(name)
      void assess()
    }
    answers[0]?.({})
    await nextTick()
    await vi.waitFor(() => {
      expect(answers).toHaveLength(2)
    })
    answers[1]?.({})
    await all
    expect(sound.value).toBe(2)
    expect(told.answered).toHaveBeenCalledTimes(2)
  })

  it('keeps the last answer under wrong entries, and says where they are', async () => {
    const draft = shallowRef<Design | null>(job('a'))
    const told = outcome()
    const { assess, assessment, errors, valid, sound } = useAssessing(draft, told)
    asked.answer.mockResolvedValueOnce({ findings: [] })
    await assess()
    expect(valid.value).toBe(true)
    asked.answer.mockRejectedValueOnce(refusal())
    await assess()
    expect(errors.value.get('use.daily_ah')?.field).toBe('Daily use')
    expect(assessment.value).toEqual({ findings: [] })
    expect([valid.value, sound.value]).toEqual([false, 1])
    expect(told.refused).toHaveBeenCalledOnce()
    asked.answer.mockResolvedValueOnce({ findings: [] })
    await assess()
    expect(errors.value.size).toBe(0)
    expect(valid.value).toBe(true)
  })

  it('tells a silent server from a wrong entry', async () => {
    const told = outcome()
    asked.answer.mockRejectedValueOnce(new Unreachable('no'))
    const { assess, errors } = useAssessing(shallowRef<Design | null>(job('a')), told)
    await assess()
    expect(errors.value.size).toBe(0)
    expect(told.failed).toHaveBeenCalledOnce()
  })
})

describe('a draft foreseen', () => {
  const [here, next, other] = [job('here'), job('next'), job('other')]
  const answer = (name: string) => ({ findings: [name] })
  const settled = () => new Promise((done) => setTimeout(done))
  async function standing(draft: ReturnType<typeof shallowRef<Design | null>>) {
    const told = outcome()
    const all = useAssessing(draft as Parameters<typeof useAssessing>[0], told)
    asked.answer.mockResolvedValueOnce(answer('here'))
    await all.assess()
    return { ...all, told }
  }
  beforeEach(() => {
    asked.answer.mockReset()
  })

  it('is judged in the same breath in which it is made, and so is the way back', async () => {
    const draft = shallowRef<Design | null>(here)
    const { assess, assessment, judged, foresee } = await standing(draft)
    asked.answer.mockResolvedValueOnce(answer('next'))
    foresee([next])
    await settled()
    draft.value = job('next')
    const drawn = assess()
    expect(assessment.value).toEqual(answer('next'))
    expect(judged.value).toBe(draft.value)
    await drawn
    draft.value = here
    void assess()
    expect(assessment.value).toEqual(answer('here'))
    expect(asked.answer).toHaveBeenCalledTimes(2)
  })

  it('is not asked for twice while its answer is on the way', async () => {
    const draft = shallowRef<Design | null>(here)
    const { assess, assessment, foresee } = await standing(draft)
    let come: (value: unknown) => void = () => undefined
    asked.answer.mockImplementationOnce(() => new Promise((done) => (come = done)))
    foresee([next])
    await settled()
    draft.value = next
    const asking = assess()
    expect(assessment.value).toEqual(answer('here'))
    come(answer('next'))
    await asking
    expect(assessment.value).toEqual(answer('next'))
    expect(asked.answer).toHaveBeenCalledTimes(2)
  })

  it('serves once, and only itself: what else is drawn is asked for, and so is what failed', async () => {
    const draft = shallowRef<Design | null>(here)
    const { assess, assessment, errors, told, foresee } = await standing(draft)
    asked.answer.mockRejectedValueOnce(new Unreachable('no'))
    foresee([next])
    await settled()
    expect(told.failed).not.toHaveBeenCalled()
    for (const [design, name] of [
      [next, 'next'],
      [other, 'other'],
      [other, 'other again'],
    ] as const) {
      asked.answer.mockResolvedValueOnce(answer(name))
      draft.value = design
      await assess()
      expect(assessment.value).toEqual(answer(name))
    }
    asked.answer.mockRejectedValueOnce(refusal())
    draft.value = job('wrong')
    await assess()
    expect(errors.value.size).toBe(1)
  })
})

describe('undo', () => {
  const heading = { title: '', code: '', customer: '' }
  const snapshot = (name: string) => ({ design: job(name), heading })

  it('takes typing in one field back as one step, another field as another', () => {
    let now = 0
    const history = useHistory(() => now)
    for (const name of ['a', 'ab', 'abc']) {
      history.remember(snapshot(name), 'use.daily_ah')
      now += 200
    }
    history.remember(snapshot('abcd'), 'use.drive_h')
    expect(history.past.value).toHaveLength(2)
    now += 5000
    history.remember(snapshot('later'), 'use.drive_h')
    expect(history.past.value).toHaveLength(3)
  })

  it('goes back and forward through the same designs', () => {
    const history = useHistory()
    const [first, second] = [snapshot('a'), snapshot('b')]
    history.remember(first, '')
    expect(history.back(second)).toBe(first)
    expect(history.back(first)).toBeNull()
    expect(history.forward(first)).toBe(second)
    history.remember(second, '')
    expect(history.forward(snapshot('c'))).toBeNull()
  })
})
