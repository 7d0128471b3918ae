/** What a VISCA device says of its make, by which a head profile can be known. */
export interface Version {
  maker: number
  model: number
}

export const deviceWords = ({ maker, model }: Version): string => {
  const hex = (n: number) => n.toString(16).padStart(4, '0')
  return `VISCA device ${hex(maker)}-${hex(model)}`
}
