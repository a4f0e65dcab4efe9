import { computed, ref, watch, type Ref } from 'vue'
import {
  chainOf,
  formatFault,
  mismatch,
  ne43Marks,
  probe,
  processEnds,
  resolution,
  rightScaling,
  scaled,
  sensorOf,
  settingsOf,
  usualScaling,
  worstError,
  listChannels,
  type Chain,
  type Link,
  type ListedChannel,
  type Scaling,
  type SignalChain,
} from '@kataxis/core'
import { useProject } from '../../stores/project'

/** An analog channel with its signal. */
export type AnalogRow = ListedChannel & { readonly signal: NonNullable<ListedChannel['signal']> }
export type BenchRow = AnalogRow & SignalChain & { readonly wrong: Scaling | null }
export type RangeBench = ReturnType<typeof useRangeBench>

/** A scaling that is off by more than rounding; null where it is right. */
function wrongOnly(chain: Chain, scaling: Scaling | null): Scaling | null {
  const worst = scaling && worstError(chain, scaling)
  return worst && Math.abs(worst.error) > 0.002 * Math.abs(chain.process.high - chain.process.low)
    ? scaling
    : null
}

/** The signal on the bench with its chain, the probe across it, and the other analog signals of its
 *  station. */
export function useRangeBench(id: Ref<string>) {
  const project = useProject()
  const signals = computed(() =>
    project.derived
      ? [...listChannels(project.derived)].filter(
          (one): one is AnalogRow => one.signal !== null && one.channel.kind === 'analog',
        )
      : [],
  )
  const found = computed(() => signals.value.find(({ signal }) => signal.id === id.value) ?? null)
  const chainAt = (row: AnalogRow) =>
    chainOf(project.catalog, project.plan!.project, row.view, row.module, row.channel, row.signal)
  const bench = computed(() =>
    found.value ? chainAt(found.value) : 'This signal is on no analog channel.',
  )
  const chain = computed(() => (typeof bench.value === 'string' ? null : bench.value.chain))
  const assumed = computed(() => (typeof bench.value === 'string' ? [] : bench.value.assumed))
  const fault = computed(() =>
    typeof bench.value === 'string'
      ? bench.value
      : (mismatch(bench.value.chain) ?? formatFault(bench.value.chain)),
  )

  const { signal, reading, set } = useProbe(id, chain)

  const right = computed(() => (chain.value ? rightScaling(chain.value) : null))
  /** What stands in the program, else what is usual and wrong. */
  const noted = computed(() => found.value?.signal.facts.scaling ?? null)
  const other = computed(() =>
    chain.value ? wrongOnly(chain.value, noted.value ?? usualScaling(chain.value)) : null,
  )
  const worst = computed(() =>
    chain.value && other.value ? worstError(chain.value, other.value) : null,
  )
  const wrongValue = computed(() =>
    chain.value && other.value && reading.value?.raw != null
      ? scaled(other.value, reading.value.raw, chain.value.characteristic)
      : null,
  )
  const marks = computed(() => (chain.value ? ne43Marks(chain.value) : []))
  const step = computed(() => (chain.value ? resolution(chain.value) : null))
  const setting = computed(() =>
    found.value
      ? (settingsOf(
          project.catalog,
          found.value.view,
          found.value.module,
          found.value.channel,
          project.plan!.project.meanings,
        ).get('range') ?? null)
      : null,
  )

  /** The other analog signals of the station, small. */
  const others = computed<BenchRow[]>(() =>
    signals.value
      .filter((one) => one.view.id === found.value?.view.id && one.signal.id !== id.value)
      .slice(0, 24)
      .flatMap((one) => {
        const result = chainAt(one)
        return typeof result === 'string' || mismatch(result.chain) || formatFault(result.chain)
          ? []
          : [
              {
                ...one,
                ...result,
                wrong: wrongOnly(result.chain, one.signal.facts.scaling ?? null),
              },
            ]
      }),
  )
  return {
    ...{ signals, found, chain, assumed, fault, setting, others },
    ...{ signal, reading, set },
    ...{ right, noted, other, worst, wrongValue, marks, step },
  }
}

/** A value across the chain; it is kept as what the signal is, since everything follows from it. */
function useProbe(id: Ref<string>, chain: Ref<Chain | null>) {
  const signal = ref(0)
  watch(
    [id, () => chain.value?.channel],
    () => {
      if (!chain.value) return
      const [low, high] = processEnds(chain.value)
      signal.value =
        probe(chain.value, 'process', sensorOf(chain.value.channel) ? 100 : (low + high) / 2)
          .signal ?? 0
    },
    { immediate: true },
  )
  const reading = computed(() => (chain.value ? probe(chain.value, 'signal', signal.value) : null))
  function set(link: Link, value: number): void {
    const next = chain.value && probe(chain.value, link, value).signal
    if (next !== null && Number.isFinite(next)) signal.value = next
  }
  return { signal, reading, set }
}
