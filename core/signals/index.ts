export { commonMeanings, meaningOf, meanings, meaningWords, readRange, sameRange, wordRange, type ElectricalRange, type Meaning, type MeaningRule } from './meaning'
export { editFor, rangeOfChannel, rangesOf, settingsOf, unusedOff, type ChannelSetting, type ParameterEdit } from './channel-settings'
export { factColumns, factNames, type FactColumn, type FactName, type FactsEdit } from './facts'
export { chainOf, formatKeyOf, rawFormatsOf, type SignalChain } from './signal-chain'
