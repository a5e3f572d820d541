/** Some names of a list, and how many more there are: what is left out is said. */
export function few(names: string[], most: number, between = ', '): string {
  const more = names.length - most
  return more > 0 ? `${names.slice(0, most).join(between)} and ${more} more` : names.join(between)
}
