// Lets Jest load modules that speak of import.meta, which its own transform cannot turn into CommonJS.
const { transformSync } = require('esbuild');

module.exports = {
  process: (source) => ({
    code: transformSync(source, { format: 'cjs', define: { 'import.meta.url': 'globalThis.moduleAddress' } })
      .code,
  }),
};
