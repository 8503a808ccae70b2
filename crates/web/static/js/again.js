// A save that the server could not take is tried again.

/** How long a save that the server could not take is waited with before it is tried again, ms. */
export const AGAIN = 3000;
/** How many times. */
export const TRIES = 20;
