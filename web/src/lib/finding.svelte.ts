/** Whether the line that finds a job stands open over the screen. */
class Finding {
  open = $state(false)
}
export const finding = new Finding()
