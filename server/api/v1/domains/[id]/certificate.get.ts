import { operations } from '../../../../contract/operations'
import { useNames } from '../../../../http/context'
import { route } from '../../../../http/route'
import { readCertificateOf } from '../../../../usecases/domains/domain-observations'

export default route(operations.readCertificate, ({ db, id }) => readCertificateOf(db, useNames(), id))
