/** Tests of the whole application in a real browser. */
module.exports = {
  testEnvironment: 'node',
  testMatch: ['<rootDir>/e2e/**/*.test.ts'],
  transform: { '\\.tsx?$': '<rootDir>/scripts/lib/jestTransform.cjs' },
  transformIgnorePatterns: ['node_modules'],
  testTimeout: 60_000,
}
