/** Reading a stored job; that of the page's address is asked for while the screens are still being read. */
import { askAhead, asked } from '../api/ahead'
import { answered, client } from '../api/client'
import type { Job } from '../api/types'

const ask = (id: number) => answered(client.GET('/api/jobs/{job_id}', { params: { path: { job_id: id } } }))

export function readJobAhead(id: number): void {
  void askAhead(`job ${id}`, () => ask(id))
}
export function readJob(id: number): Promise<Job> {
  return asked(`job ${id}`, () => ask(id))
}
