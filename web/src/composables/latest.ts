/**
 * Runs something that asks the server, again and again while one types. An answer to an earlier asking that comes late is not taken in: it
 * would stand in the place of a newer one.
 */
export function latest<A extends unknown[], T>(ask: (...args: A) => Promise<T>, take: (answer: T) => void) {
  let asked = 0
  return async (...args: A) => {
    const mine = ++asked
    const answer = await ask(...args)
    if (mine === asked) take(answer)
  }
}
