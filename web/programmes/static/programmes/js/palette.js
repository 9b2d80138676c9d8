// Finding a task by what somebody types: the nearest first, by its name before all else that it is called.

/** How near one word comes to a task, the least the nearest; nothing where it is not found. */
function nearness(word, name, also) {
  const words = name.split(/[^\p{L}\p{N}]+/u);
  if (name.startsWith(word)) return 0;
  if (words.includes(word)) return 1;
  if (words.some((each) => each.startsWith(word))) return 2;
  const called = also.split(/[^\p{L}\p{N}]+/u);
  if (called.includes(word)) return 3;
  if (called.some((each) => each.startsWith(word))) return 4;
  if (name.includes(word)) return 5;
  return also.includes(word) ? 6 : null;
}

/**
 * The tasks that every word finds, the nearest first; those that are as near stand as the catalogue has them.
 * @param {{name: string, also: string}[]} tasks
 * @param {string} typed
 */
export function matching(tasks, typed) {
  const wanted = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const found = [];
  for (const task of tasks) {
    const near = wanted.map((word) => nearness(word, task.name.toLowerCase(), task.also.toLowerCase()));
    if (!near.includes(null)) found.push({ task, far: near.reduce((sum, each) => sum + each, 0) });
  }
  return found.sort((one, other) => one.far - other.far).map(({ task }) => task);
}
