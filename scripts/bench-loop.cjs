// Loaded into each process of bench:together: tells when its event loop was held up, and how much of that time the
// process itself worked; the rest it waited for a processor that others had.
const MIN_MS = 15
let last = performance.now()
let cpu = process.cpuUsage()
setInterval(() => {
  const now = performance.now()
  const { user, system } = process.cpuUsage(cpu)
  cpu = process.cpuUsage()
  const heldMs = now - last
  if (heldMs > MIN_MS) process.stdout.write(`held up ${heldMs.toFixed(1)} ms, worked ${(user + system) / 1000} ms\n`)
  last = now
}, 3).unref()
