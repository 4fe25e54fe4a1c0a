import { SHIPPED_FACES } from '../fonts/catalogue'
import { LARGE_FACES, testFaces } from './corpus'

// two files, so that two cores share the work: the largest faces take as long as all the others
testFaces(SHIPPED_FACES.filter((f) => LARGE_FACES.includes(f.id)))
