/** What may import what, types included. The packages know each other one way (see also ESLint's
 *  boundaries), nothing imports in a circle, and the folders of core lie upon each other: each may
 *  import those before it. */
const layersOfCore = [
  'vocabulary',
  'scaling',
  'catalog',
  'addressing',
  'protocols',
  'plan',
  'image',
  'parameters',
  'device-files',
  'derive',
  'networks',
  'placement',
  'power',
  'safety',
  'signals',
  'tags',
  'changing',
  'checks',
  'overview',
  'rehearsal',
  'exchange',
  'users',
  'contract',
]

export default {
  forbidden: [
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'core-folder-without-layer',
      severity: 'error',
      from: { path: `^core/(?!(${layersOfCore.join('|')}|test)/)[^/]+/` },
      to: {},
    },
    ...layersOfCore.slice(0, -1).map((layer, i) => ({
      name: `core-${layer}-stays-below`,
      severity: 'error',
      from: { path: `^core/${layer}/` },
      to: { path: `^core/(${layersOfCore.slice(i + 1).join('|')}|index\\.ts)` },
    })),
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(\\.test\\.ts$|/test/|/dist/|node_modules)' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: { extensions: ['.ts', '.vue', '.mjs', '.js'] },
  },
}
