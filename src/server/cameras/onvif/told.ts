/** Which of its positions a device tells: it may leave one out for a moment; what it never tells it does not report. */
const UNTOLD_IN_A_ROW = 3

export class Told {
  panTilt = true
  zoom = true
  private untold = 0

  /** @returns whether what it reports has changed */
  take(panTilt: boolean, zoom: boolean): boolean {
    const missing = (this.panTilt && !panTilt) || (this.zoom && !zoom)
    this.untold = missing ? this.untold + 1 : 0
    const more = (panTilt && !this.panTilt) || (zoom && !this.zoom)
    if (!more && this.untold < UNTOLD_IN_A_ROW) return false
    Object.assign(this, { panTilt, zoom })
    this.untold = 0
    return true
  }
}
