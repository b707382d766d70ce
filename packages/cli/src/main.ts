import { readable } from '@voskel/core'
import { Command, CommanderError } from 'commander'
import { nowAt, sayWhenLong } from './atWork.js'
import { commands } from './commands/index.js'
import { unwritable } from './io.js'
import { BAD_INPUT, report } from './report.js'

const program = new Command('voskel')
  .description('From a filter’s specification to a circuit with values, and its proof.')
  .version('0.1.0')
  .exitOverride()
  .showHelpAfterError('Run with --help for what is possible.')
  .configureOutput({
    // A suggestion comes on a line of its own.
    outputError: (text, write) =>
      write(
        `${readable(
          text
            .trim()
            .replace(/^error: /, 'voskel: ')
            .replace(/\s*\n\s*/g, ' '),
        )}\n`,
      ),
  })
for (const register of commands) register(program)
for (const command of program.commands) command.exitOverride().copyInheritedSettings(program)
program.hook('preAction', (_, command) => nowAt(readable([command.name(), ...command.args].join(' '))))

// A reader that stops early (head, less) is no error.
process.stdout.on('error', (error: NodeJS.ErrnoException) =>
  process.exit(error.code === 'EPIPE' ? 0 : report(unwritable('Standard output', error))),
)

sayWhenLong()
try {
  program.parse()
} catch (error) {
  if (error instanceof CommanderError) process.exitCode = error.exitCode === 0 ? 0 : BAD_INPUT
  else if ((error as NodeJS.ErrnoException).code === 'EPIPE') process.exitCode = 0
  else process.exitCode = report(error)
}
