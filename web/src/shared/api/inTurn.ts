/**
 * Changes go out one after another, so that each is made from what the one before has left behind. Two with one owner
 * are the same change tapped twice: they go together, and the server keeps one of them.
 */
type Going = { owner: string; done: Promise<unknown> };
const going = new Set<Going>();

export function inTurn<T>(owner: string, work: () => Promise<T>): Promise<T> {
  const before = [...going].filter((one) => one.owner !== owner).map((one) => one.done);
  const done = (before.length ? Promise.allSettled(before) : Promise.resolve()).then(work);
  const mine = { owner, done };
  going.add(mine);
  const leave = () => void going.delete(mine);
  done.then(leave, leave);
  return done;
}
