import type { Derived } from '../../derive/derive'
import type { Id } from '../../plan/model'
import { wordsOfOrigin, type Origin } from '../origin'
import { Utf8Writer } from '../utf8-writer'
import { noMoment, xmlDeclaration, xmlText } from '../xml'
import { scalingInputs, type ScalingBlock } from './scaling'
import type { VariableType } from './types'
import { programVariables, type ControllerVariables } from './variables'

export const iec61131Namespace = 'www.iec.ch/public/TC65SC65BWG7TF10'

const documentation = (text: string) =>
  text === '' ? '' : `<Documentation xsi:type="SimpleText">${xmlText(text)}</Documentation>`
const typeText = (type: VariableType) =>
  `<Type>${
    typeof type === 'string'
      ? `<TypeName>${type}</TypeName>`
      : `<InstantlyDefinedType xsi:type="ArrayTypeSpec"><BaseType><TypeName>BYTE</TypeName></BaseType><DimensionSpec dimensionNumber="1"><IndexRange lower="0" upper="${type.octets - 1}"/></DimensionSpec></InstantlyDefinedType>`
  }</Type>`
const st = (lines: string) =>
  `<MainBody><BodyContent xsi:type="ST"><ST>${xmlText(lines).replaceAll('&#10;', '\n')}</ST></BodyContent></MainBody>`
const real = (name: string, order = '') =>
  `<Variable name="${name}"${order}>${typeText('REAL')}</Variable>`

/** Named signals as IEC 61131-10:2019: structure types, global variables at their addresses, a
 *  scaling block and a program that calls it. Element names and their order from memory. */
export function writeIec61131(derived: Derived, origin: Origin, controllerId?: Id): Uint8Array {
  const { plant, controllers, blocks, leftOut } = programVariables(derived, controllerId)
  const words = [
    ...wordsOfOrigin(origin),
    ...leftOut.map(({ tag, why }) => `left out: ${tag}; ${why}`),
  ].join('\n')
  const file = new Utf8Writer()
  file.add(xmlDeclaration)
  file.add(
    `<Project xmlns="${iec61131Namespace}" xmlns:xsi="http://www.w3.org/2001/XMLSchema-instance" schemaVersion="1.0">\n`,
  )
  file.add('<FileHeader companyName="Kataxis" productName="Kataxis" productVersion="1"/>\n')
  file.add(
    `<ContentHeader name="${xmlText(origin.project)}" version="${origin.revision}" creationDateTime="${xmlText(origin.at ?? noMoment)}">`,
  )
  file.add(documentation(words))
  file.add(
    '<CoordinateInfo><FbdScaling x="1" y="1"/><LdScaling x="1" y="1"/><SfcScaling x="1" y="1"/></CoordinateInfo></ContentHeader>\n',
  )
  file.add('<Types>\n<GlobalNamespace>\n')
  for (const { structures } of controllers) {
    for (const { name, comment, members } of structures) {
      file.add(
        `<DataTypeDecl name="${name}">${documentation(comment)}<UserDefinedTypeSpec xsi:type="StructTypeSpec">\n`,
      )
      for (const one of members)
        file.add(
          `<Member name="${one.name}">${documentation(one.comment)}${typeText(one.type)}</Member>\n`,
        )
      file.add('</UserDefinedTypeSpec></DataTypeDecl>\n')
    }
  }
  if (controllers.some(({ scaled }) => scaled.length > 0))
    file.add([blocks.linear, blocks.root].map(blockText).join(''))
  for (const one of controllers) if (one.scaled.length > 0) file.add(programText(one, blocks.share))
  file.add('</GlobalNamespace>\n</Types>\n<Instances>\n<Configuration name="')
  file.add(`${plant}">\n`)
  for (const one of controllers) {
    file.add(
      `<Resource name="${one.name}" resourceTypeName="Controller">${documentation(one.controller.name)}\n`,
    )
    file.add('<GlobalVars>\n')
    for (const { name, type, address, comment } of one.variables)
      file.add(
        `<Variable name="${name}">${documentation(comment)}${typeText(type)}${address === null ? '' : `<Address address="${address}"/>`}</Variable>\n`,
      )
    for (const { name, comment } of one.scaled)
      file.add(`<Variable name="${name}">${documentation(comment)}${typeText('REAL')}</Variable>\n`)
    file.add('</GlobalVars>\n')
    if (one.scaled.length > 0)
      file.add(
        `<ProgramInstance name="${one.scalingProgram}_instance" typeName="${one.scalingProgram}"/>\n`,
      )
    file.add('</Resource>\n')
  }
  file.add(`</Configuration>\n</Instances>\n</Project>\n`)
  return file.finish()
}

const blockText = ({ name, comment, body }: ScalingBlock) =>
  `<Function name="${name}">${documentation(comment)}<ResultType><TypeName>REAL</TypeName></ResultType><Parameters><InputVars>${scalingInputs
    .map((input, i) => real(input, ` orderWithinParamSet="${i + 1}"`))
    .join('')}</InputVars></Parameters>${st(body)}</Function>\n`

function programText({ scalingProgram, scaled }: ControllerVariables, share: string): string {
  const statements = scaled.map(({ statement }) => statement).join('\n')
  return `<Program name="${scalingProgram}"><Vars accessSpecifier="private">${real(share)}</Vars>${st(statements)}</Program>\n`
}
