/** Every request that changes something carries this header: a form cannot, nor a page from elsewhere. */
export const CHANGE_HEADER = 'x-steady-heron'
