import { expect, test } from 'vitest'
import { gsdml, moduleItem, submoduleItem } from '../test/gsdml'
import { readText } from '../test/plans'

const item = (id: string, type: string, text = 'T_S') => moduleItem(id, '0x10', submoduleItem(`${id}_1`, `<Input><DataItem DataType="${type}" TextId="${text}"/></Input>`))
const inputsOf = (modules: string) => {
  const { file, problems } = readText(gsdml({ modules, useable: '', texts: ['DAP', 'DI', 'AO', 'M', 'S'].map((id) => `<Text TextId="T_${id}" Value="${id}"/>`).join('') }))
  return { problems, inputs: file!.modules.map(({ submodules }) => submodules[0]!.inputs) }
}

test('data written alike are one object; data written otherwise are not', () => {
  const { inputs: [first, second, third, fourth] } = inputsOf(item('DI', 'Unsigned8') + item('AO', 'Unsigned8') + item('M', 'Integer16') + item('S', 'Unsigned8', 'T_M'))
  expect(second).toBe(first)
  expect(third).not.toBe(first)
  expect(fourth![0]).toMatchObject({ name: 'M' })
})

test('what is wrong is told at each place where it stands', () => {
  const { problems } = inputsOf(`${item('DI', 'Unsigned7')}\n${item('AO', 'Unsigned7')}`)
  expect(problems.filter(({ code }) => code === 'data.type').map(({ line }) => line)).toEqual([14, 15])
})
