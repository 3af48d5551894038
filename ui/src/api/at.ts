// A program may serve several firms: the first at its own address, each other
// below /firm/NAME. What is asked for, kept in the browser and led to belongs to
// the firm of the page.

/** Where the firm of this page is: '' for the first. */
export const at = /^\/firm\/[a-z0-9-]+(?=\/|$)/.exec(window.location.pathname)?.[0] ?? '';

/** An address of this firm, for what is not asked by the client and not led to by the router. */
export const under = (path: string) => at + path;

/** The path of an address below the firm's. */
export const below = (path: string) => path.slice(at.length);

/** The path of this page, as the router says it. */
export const here = () => below(window.location.pathname);

const kept = (storage: Storage) => ({
  getItem: (key: string) => storage.getItem(at + key),
  setItem: (key: string, value: string) => storage.setItem(at + key, value),
  removeItem: (key: string) => storage.removeItem(at + key),
});

/** What is kept of this firm in the tab, and in the browser. */
export const inTab = kept(sessionStorage);
export const inBrowser = kept(localStorage);
