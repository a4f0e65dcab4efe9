import type { Derived } from '../../derive/derive'
import type { Id } from '../../plan/model'
import { wordsOfOrigin, type Origin } from '../origin'
import { Utf8Writer } from '../utf8-writer'
import { noMoment, xmlDeclaration, xmlText } from '../xml'
import { scalingInputs, type ScalingBlock } from './scaling'
import type { VariableType } from './types'
import { programVariables, type ControllerVariables } from './variables'

export const plcopenNamespace = 'http://www.plcopen.org/xml/tc6_0201'

const paragraph = (text: string) => `<xhtml:p>${xmlText(text)}</xhtml:p>`
const documentation = (text: string) =>
  text === '' ? '' : `<documentation>${paragraph(text)}</documentation>`

const typeText = (type: VariableType) =>
  `<type>${
    typeof type === 'string'
      ? `<${type}/>`
      : `<array><dimension lower="0" upper="${type.octets - 1}"/><baseType><BYTE/></baseType></array>`
  }</type>`

const scale = '<scaling x="1" y="1"/>'

/** Named signals as PLCopen XML TC6 2.01: structure types, global variables at their addresses, a
 *  scaling block and a program that calls it. Element names and their order from memory. */
export function writePlcopen(derived: Derived, origin: Origin, controllerId?: Id): Uint8Array {
  const { plant, controllers, blocks, leftOut } = programVariables(derived, controllerId)
  const moment = xmlText(origin.at ?? noMoment)
  const words = [
    ...wordsOfOrigin(origin),
    ...leftOut.map(({ tag, why }) => `left out: ${tag}; ${why}`),
  ].join('\n')
  const file = new Utf8Writer()
  file.add(xmlDeclaration)
  file.add(`<project xmlns="${plcopenNamespace}" xmlns:xhtml="http://www.w3.org/1999/xhtml">\n`)
  file.add(
    `<fileHeader companyName="Kataxis" productName="Kataxis" productVersion="1" creationDateTime="${moment}"/>\n`,
  )
  file.add(
    `<contentHeader name="${xmlText(origin.project)}" version="${origin.revision}" modificationDateTime="${moment}">`,
  )
  file.add(`<Comment>${xmlText(words)}</Comment>`)
  file.add(
    `<coordinateInfo><fbd>${scale}</fbd><ld>${scale}</ld><sfc>${scale}</sfc></coordinateInfo></contentHeader>\n`,
  )
  file.add('<types>\n<dataTypes>\n')
  for (const { structures } of controllers) {
    for (const { name, comment, members } of structures) {
      file.add(`<dataType name="${name}"><baseType><struct>\n`)
      for (const one of members)
        file.add(
          `<variable name="${one.name}">${typeText(one.type)}${documentation(one.comment)}</variable>\n`,
        )
      file.add(`</struct></baseType>${documentation(comment)}</dataType>\n`)
    }
  }
  file.add('</dataTypes>\n<pous>\n')
  if (controllers.some(({ scaled }) => scaled.length > 0))
    file.add([blocks.linear, blocks.root].map(blockText).join(''))
  for (const one of controllers) if (one.scaled.length > 0) file.add(programText(one, blocks.share))
  file.add('</pous>\n</types>\n<instances>\n<configurations>\n')
  file.add(`<configuration name="${plant}">\n`)
  for (const one of controllers) {
    file.add(`<resource name="${one.name}">\n`)
    if (one.scaled.length > 0)
      file.add(
        `<task name="${one.scalingProgram}_task" interval="T#100ms" priority="1"><pouInstance name="${one.scalingProgram}_instance" typeName="${one.scalingProgram}"/></task>\n`,
      )
    file.add('<globalVars>\n')
    for (const { name, type, address, comment } of one.variables)
      file.add(
        `<variable name="${name}"${address === null ? '' : ` address="${address}"`}>${typeText(type)}${documentation(comment)}</variable>\n`,
      )
    for (const { name, comment } of one.scaled)
      file.add(`<variable name="${name}">${typeText('REAL')}${documentation(comment)}</variable>\n`)
    file.add(`</globalVars>${documentation(one.controller.name)}\n</resource>\n`)
  }
  file.add(`</configuration>\n</configurations>\n</instances>\n</project>\n`)
  return file.finish()
}

const st = (lines: string) =>
  `<body><ST><xhtml:p xml:space="preserve">${xmlText(lines).replaceAll('&#10;', '\n')}</xhtml:p></ST></body>`
const reals = (names: readonly string[]) =>
  names.map((name) => `<variable name="${name}">${typeText('REAL')}</variable>`).join('')

const blockText = ({ name, comment, body }: ScalingBlock) =>
  `<pou name="${name}" pouType="function"><interface><returnType><REAL/></returnType><inputVars>${reals(scalingInputs)}</inputVars>${documentation(comment)}</interface>${st(body)}</pou>\n`

function programText({ scalingProgram, scaled }: ControllerVariables, share: string): string {
  const statements = scaled.map(({ statement }) => statement).join('\n')
  return `<pou name="${scalingProgram}" pouType="program"><interface><localVars>${reals([share])}</localVars></interface>${st(statements)}</pou>\n`
}
