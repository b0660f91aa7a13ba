import { expose } from 'comlink'
import { nearness } from '../../../core/query/nearest'

expose(nearness)
