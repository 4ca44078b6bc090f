import config from './playwright.config';

/** Takes the pictures for docs/screenshots from the demo's data: make screenshots. */
export default { ...config, testDir: './screens' };
