/** Where one text differs from another: from the first character that is other to the last. */
function span(was: string, now: string) {
  const most = Math.min(was.length, now.length);
  let from = 0;
  while (from < most && was[from] === now[from]) from++;
  let end = 0;
  while (end < most - from && was.at(-1 - end) === now.at(-1 - end)) end++;
  return { from, to: was.length - end, made: now.slice(from, now.length - end) };
}

/** What two made of the same words, each in another place of them; undefined where the places touch. */
export function merged(was: string, mine: string, theirs: string): string | undefined {
  const [first, then] = [span(was, mine), span(was, theirs)].sort((a, b) => a.from - b.from) as [Span, Span];
  if (first.to >= then.from) return undefined;
  return was.slice(0, first.from) + first.made + was.slice(first.to, then.from) + then.made + was.slice(then.to);
}
type Span = ReturnType<typeof span>;
