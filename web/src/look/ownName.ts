/** A name that nothing else has: of a tab, or of what is sent out of it. */
export const ownName = (kind: string) => `${kind}-${Math.random().toString(36).slice(2)}${Date.now().toString(36)}`;
