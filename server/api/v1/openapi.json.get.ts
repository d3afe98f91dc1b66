import { version } from '../../../package.json'
import { operations } from '../../contract/operations'
import { route } from '../../http/route'
import { openApiDocument } from '../../openapi/document'

const document = openApiDocument(version)

export default route(operations.readOpenApi, async () => document)
