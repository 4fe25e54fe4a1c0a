/** Whether a Host header names this machine. */
export const isLocal = (host: string) => /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/.test(host)
