/** Where the choice of a theme is kept, so that the server draws the page in it from the start. */
export const THEME_COOKIE = 'kelvar-theme'
