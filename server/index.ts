export { serve } from './serve'
export { closeServices, openServices, type Services } from './services'
export { demoProject, loadDemo } from './services/demo'
export type { ChangeEntry } from './repositories/changes'
