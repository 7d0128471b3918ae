/** Unit tests: the core, stand-ins and server as plain Node, the pages' own logic under jest-expo. */
const node = {
  testEnvironment: 'node',
  transform: { '\\.tsx?$': '<rootDir>/scripts/lib/jestTransform.cjs' },
}
module.exports = {
  // Tests that may run at once within a file mostly wait for a camera.
  maxConcurrency: 12,
  projects: [
    {
      displayName: 'rooms',
      ...node,
      // It comes as modules alone.
      transform: { ...node.transform, 'osc-min.*\\.js$': '<rootDir>/scripts/lib/jestTransform.cjs' },
      transformIgnorePatterns: ['/node_modules/(?!osc-min/)'],
      moduleNameMapper: { '^osc-min$': '<rootDir>/node_modules/osc-min/dist/index.js' },
      testMatch: ['<rootDir>/src/{core,guardian,server,simulator,conformance}/**/*.test.ts'],
    },
    {
      displayName: 'ui',
      preset: 'jest-expo/web',
      testMatch: ['<rootDir>/src/ui/**/*.test.{ts,tsx}'],
      // The icons come as modules that Node cannot read as they are.
      transform: { '\\.mjs$': 'babel-jest' },
      transformIgnorePatterns: [
        '/node_modules/(?!(.*lucide|.*react-native|.*expo|@react-native|react-native-svg))',
      ],
      moduleFileExtensions: ['ts', 'tsx', 'js', 'mjs', 'json'],
    },
  ],
}
