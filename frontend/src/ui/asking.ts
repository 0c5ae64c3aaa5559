/** An answer counts where it was asked for: one may have gone elsewhere meanwhile, or asked again. */

/**
 * Ask before waiting: what it returns says afterwards whether the answer still counts.
 *
 * @param where - Says where one is, such as which job is open.
 */
export function asking(where: () => unknown): () => () => boolean {
  let last = 0
  return () => {
    const [mine, here] = [(last += 1), where()]
    return () => mine === last && here === where()
  }
}
