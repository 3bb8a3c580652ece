export { readChunk as default } from '../intake/recordings/readChunk'
