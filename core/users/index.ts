export { may, roleNames, roles, wordMissingRight, type Right, type RoleName } from './roles'
