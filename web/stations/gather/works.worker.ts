import { expose } from 'comlink'
import { worksAmong } from '../../../core/match/records'

expose(worksAmong)
