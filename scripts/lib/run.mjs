/** Runs other programs. */
import { spawn } from 'node:child_process'

/** Resolves with the exit code and all that was printed. */
export function run(command, args, options = {}) {
  return new Promise((resolve) => {
    const child = spawn(command, args, { stdio: ['ignore', 'pipe', 'pipe'], ...options })
    let output = ''
    child.stdout?.on('data', (d) => (output += d))
    child.stderr?.on('data', (d) => (output += d))
    child.on('error', (error) => resolve({ code: 127, output: error.message }))
    child.on('close', (code) => resolve({ code: code ?? 1, output }))
  })
}

/** The last lines of a long output. */
export const tail = (output, lines = 12) => output.trim().split('\n').slice(-lines).join('\n')
