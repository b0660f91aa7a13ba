import { expose } from 'comlink'
import { Learner } from '../../../core/sift/learner'

expose(new Learner())
