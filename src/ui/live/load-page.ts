/** Another page from the server, and nothing kept of this one: after a sign-in, and where a session is over. */
export const loadPage = (place: string): void => window.location.assign(place);

/** With the way back. */
export const signInPage = (to: string): string => `/sign-in?to=${encodeURIComponent(to)}`;
