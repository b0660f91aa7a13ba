import { expose } from 'comlink'
import { FieldDesk } from './field-desk'

expose(new FieldDesk())
