/** Tests of the whole application in a real browser. */
module.exports = {
  testEnvironment: 'node',
  testMatch: ['<rootDir>/e2e/**/*.test.ts'],
  transform: { '(\\.tsx?|osc-min.*\\.js)$': '<rootDir>/scripts/lib/jestTransform.cjs' },
  transformIgnorePatterns: ['/node_modules/(?!osc-min/)'],
  moduleNameMapper: { '^osc-min$': '<rootDir>/node_modules/osc-min/dist/index.js' },
  testTimeout: 60_000,
}
