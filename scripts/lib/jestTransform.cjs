/** TypeScript for the tests that run as plain Node: as quick as the build of the server, and by the same tool. */
const { transformSync } = require('esbuild')

module.exports = {
  process(source, path) {
    return transformSync(source, {
      loader: path.endsWith('x') ? 'tsx' : 'ts',
      format: 'cjs',
      target: 'node20',
      sourcefile: path,
      sourcemap: 'inline',
    })
  },
}
