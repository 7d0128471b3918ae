/** What is kept. Angles in degrees, zoom and focus in the lens's own units. */

export * from './schema/people'
export * from './schema/presets'
export * from './schema/show'
export * from './schema/surveys'
export * from './schema/venue'
