export { fromHex, parseOctets, toHex } from './hex'
export { decodeRecord, encodeRecord, faultOf, type EncodedRecord, type ParameterValues } from './record'
export { decodeValue, encodeValue, rangeOf, type ValuePlace } from './value'
