/** Headers of our own on requests. */

/** Every request that changes something carries this header: a form cannot, nor a page from elsewhere. */
export const CHANGE_HEADER = 'x-steady-heron'
/** Carries the key of the page that sends a request, so that it counts as the same hand as its socket. */
export const PAGE_HEADER = 'x-heron-page'
