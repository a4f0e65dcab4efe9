/** Roles and interfaces of the application recommendation "Automation Project Configuration" (IEC
 *  62714), as far as they are public; names from memory. The libraries stand in each file, so that it
 *  can be read without others. */
export const roleLibrary = 'AutomationProjectConfigurationRoleClassLib'
export const interfaceLibrary = 'AutomationProjectConfigurationInterfaceClassLib'

const roles = [
  'AutomationProject',
  'Device',
  'DeviceItem',
  'CommunicationInterface',
  'Node',
  'Subnet',
  'TagTable',
] as const
const interfaces = ['Channel', 'Tag', 'LogicalEndPoint'] as const

export type Role = (typeof roles)[number]
export type Interface = (typeof interfaces)[number]

export const roleOf = (role: Role) =>
  `<RoleRequirements RefBaseRoleClassPath="${roleLibrary}/${role}"/>`
export const classOf = (name: Interface) => `RefBaseClassPath="${interfaceLibrary}/${name}"`

const base = 'AutomationMLBaseRoleClassLib'
const interfaceBase = 'AutomationMLInterfaceClassLib'

/** Interface classes stand before role classes (IEC 62424:2016). */
export const libraries = [
  `<InterfaceClassLib Name="${interfaceBase}"><Version>2.10.0</Version><InterfaceClass Name="AutomationMLBaseInterface"/></InterfaceClassLib>`,
  `<InterfaceClassLib Name="${interfaceLibrary}"><Version>1.2.0</Version>`,
  ...interfaces.map(
    (name) =>
      `<InterfaceClass Name="${name}" RefBaseClassPath="${interfaceBase}/AutomationMLBaseInterface"/>`,
  ),
  '</InterfaceClassLib>',
  `<RoleClassLib Name="${base}"><Version>2.10.0</Version><RoleClass Name="AutomationMLBaseRole"/></RoleClassLib>`,
  `<RoleClassLib Name="${roleLibrary}"><Version>1.2.0</Version>`,
  ...roles.map(
    (name) => `<RoleClass Name="${name}" RefBaseClassPath="${base}/AutomationMLBaseRole"/>`,
  ),
  '</RoleClassLib>',
  '',
].join('\n')
