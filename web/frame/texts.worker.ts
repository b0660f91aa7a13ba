import { expose } from 'comlink'
import { TextSearch } from '../../core/query/texts'

expose(new TextSearch())
