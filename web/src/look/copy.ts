/** Puts text on the clipboard; where the browser lets no page at it (no TLS), by way of a field that is taken away again. */
export async function copy(text: string) {
  if (navigator.clipboard) return navigator.clipboard.writeText(text);
  const field = document.createElement('textarea');
  field.value = text;
  document.body.append(field);
  field.select();
  const done = document.execCommand('copy');
  field.remove();
  if (!done) throw new Error('The browser does not let Mendry copy. Mark the words and copy them yourself.');
}
