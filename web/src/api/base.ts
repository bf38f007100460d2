/** Practice is the same program on engines of its own, which never meet the workshop's: pages, answers and outbox below another address. */
export const practice = /^\/practice(\/|$)/.test(location.pathname)
export const base = practice ? '/practice' : ''
