import { resolve } from 'node:path'

/** Packages that tests get as one file each, made before the run: by name, the path of the file. */
export const bundled = Object.fromEntries(
  ['@chakra-ui/react', 'lucide-react', 'date-fns', 'recharts'].map(name => [
    name,
    resolve('node_modules/.cache', `bundled-${name.replace(/\W+/g, '-')}.mjs`),
  ]),
)
