import { livingServings } from '../environment/serving-folder'

/** Processes that serve may end their answers for this long. */
const SERVING_PATIENCE_MS = 8000

function signalIfThere(pid: number, name: NodeJS.Signals): void {
  try {
    process.kill(pid, name)
  } catch {
    // It has just ended.
  }
}

/** Ends processes of the gateway that serve on although nobody leads them. */
export async function stopServings(state: string): Promise<void> {
  const force = Date.now() + SERVING_PATIENCE_MS
  for (const pid of livingServings(state)) signalIfThere(pid, 'SIGTERM')
  for (let left = livingServings(state); left.length > 0; left = livingServings(state)) {
    if (Date.now() > force) for (const pid of left) signalIfThere(pid, 'SIGKILL')
    await new Promise((resolve) => setTimeout(resolve, 50))
  }
}
