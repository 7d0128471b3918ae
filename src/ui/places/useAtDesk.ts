/** What every place of whoever sits at the desk has: what the server tells, their own controls, and the devices in their hands. */
import { useEffect } from 'react'
import { fault } from '../basics/notes'
import { loadPersons } from '../input/controlsStore'
import { devices } from '../input/devices'
import { live } from '../live/live'

export function useAtDesk(): void {
  useEffect(() => {
    live().onNotice = (_camera, text) => fault(text)
    void loadPersons()
    devices.run()
  }, [])
}
