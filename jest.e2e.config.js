/** Tests of the whole application in a real browser. */
// Most of the computer would draw the barn; the few tests that look at what a picture shows ask for that.
process.env.HERON_SIM_PICTURES ??= 'before'

module.exports = {
  testEnvironment: 'node',
  testMatch: ['<rootDir>/e2e/**/*.test.ts'],
  transform: { '\\.tsx?$': '<rootDir>/scripts/lib/jestTransform.cjs' },
  transformIgnorePatterns: ['node_modules'],
  testTimeout: 60_000,
}
