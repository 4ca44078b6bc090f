/** Where visitors find a path of a site: what an address may not have as it is, is escaped (RFC 3986, 2.1 and 3.3). */
export const publicAddress = (base: string, path: string) =>
  base.replace(/\/$/, '') + path.split('/').map(encodeURIComponent).join('/');
