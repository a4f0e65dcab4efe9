import type { DeviceFile } from '../catalog/model'

export interface ReadOptions {
  /** Language tag of the texts; left out or missing in the file: its primary language. */
  readonly language?: string | null
}

/** What a reader gives: `readable` is false where nothing of the file may be used, and its problems
 *  say why. */
export interface FormatReading {
  readonly readable: boolean
  readonly file: DeviceFile
}

/** A description format: how to tell that a text is one, and how to read it. */
export interface Format {
  /** File name endings it comes with. */
  readonly endings: readonly string[]
  /** Names of files that every package of it holds beside its descriptions. */
  readonly repeats?: RegExp
  readonly recognise: (text: string, fileName: string) => boolean
  readonly read: (text: string, fileName: string, options?: ReadOptions) => FormatReading
}
