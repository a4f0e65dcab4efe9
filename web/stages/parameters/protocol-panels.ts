import type { Component } from 'vue'
import StartUpPanel from './StartUpPanel.vue'
import TelegramPanel from './TelegramPanel.vue'

/** What the parameters of a station also show, by the protocol of its head. */
export const protocolPanels: Readonly<Record<string, Component>> = {
  profibus: TelegramPanel,
  ethercat: StartUpPanel,
}
