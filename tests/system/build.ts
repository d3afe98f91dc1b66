import { buildIfChanged } from '../../scripts/build'

/** The system tests drive the production build. */
export default () => buildIfChanged((line) => process.stdout.write(line + '\n'))
