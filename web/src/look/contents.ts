/** Where menus and the like come up: within the contents of the page, so that whoever goes by its regions finds them. */
export const contents = () => document.getElementById('main') ?? document.body;
