/** Under this name the page learns the nonce that its Content Security Policy allows. */
export const NONCE_HEADER = 'x-kelvar-nonce'
