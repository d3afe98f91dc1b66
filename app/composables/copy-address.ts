/** Copies a short address as it is passed on, with its scheme, and says so. */
export async function copyAddress({ domain, slug }: { domain: string; slug: string }): Promise<void> {
  const address = `https://${domain}/${slug}`
  try {
    await navigator.clipboard.writeText(address)
    useNotice().tell(`Copied ${address}`)
  } catch {
    useNotice().tell(`The browser did not allow copying. The address is ${address}`)
  }
}
