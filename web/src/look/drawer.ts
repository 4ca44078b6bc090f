/**
 * What Mendry keeps in this browser beyond the page. Where the browser has no room, or its owner lets no site keep
 * anything, it is kept as long as the page is open.
 */
export interface Drawer {
  get(name: string): string | undefined;
  /** Reports whether it outlives the page. */
  put(name: string, what: string): boolean;
  drop(name: string): void;
}

/** A drawer in a storage, which may be refused as soon as it is asked for (HTML, Web storage: a SecurityError). */
export function drawerIn(storage: () => Storage): Drawer {
  const open = new Map<string, string>(); // what the storage did not take
  const drop = (name: string) => {
    open.delete(name);
    try {
      storage().removeItem(name);
    } catch {
      // then nothing lies there
    }
  };
  return {
    get(name) {
      try {
        return open.get(name) ?? storage().getItem(name) ?? undefined;
      } catch {
        return undefined; // what is open was looked for first
      }
    },
    put(name, what) {
      try {
        storage().setItem(name, what);
        open.delete(name);
        return true;
      } catch {
        drop(name); // what lies there from before is not so any more
        open.set(name, what);
        return false;
      }
    },
    drop,
  };
}

export const drawer = drawerIn(() => localStorage);

/** What lies in the drawer as JSON; undefined where something else wrote it. */
export function read<T>(name: string): T | undefined {
  try {
    return (JSON.parse(drawer.get(name) ?? 'null') as T | null) ?? undefined;
  } catch {
    return undefined;
  }
}
