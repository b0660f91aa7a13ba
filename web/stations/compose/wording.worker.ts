import { expose } from 'comlink'
import { Sources } from './sources'

expose(new Sources())
