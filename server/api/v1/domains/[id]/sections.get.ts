import { operations } from '../../../../contract/operations'
import { useNames } from '../../../../http/context'
import { route } from '../../../../http/route'
import { readDomainSections } from '../../../../usecases/domains/domain-sections'

export default route(operations.readDomainSections, ({ db, id }) => readDomainSections(db, useNames(), id))
