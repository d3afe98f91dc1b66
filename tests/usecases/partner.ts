import { proposalCreate, proposalRowsQuery, type Link, type Proposal, type ProposalRow } from '../../core/schemas'
import { listProposalRows } from '../../server/usecases/changes/proposal-view'
import { makeChange, makeProposal, readProposal } from '../../server/usecases/changes/proposals'
import { readLink } from '../../server/usecases/links/read-link'
import { administrator, type TestRegister } from './register'

let partners = 0

/** A partner with three links to its host, which it moves: the story of most tests of changes to many links. */
export class Partner {
  private constructor(
    readonly register: TestRegister,
    readonly number: number,
    readonly links: Link[],
  ) {}

  static async make(register: TestRegister): Promise<Partner> {
    const number = ++partners
    const links: Link[] = []
    for (const name of ['a', 'b', 'c'])
      links.push(
        await register.link(`${name}${number}`, `https://old${number}.example/${name}?x=1#f`, { tags: ['partner'] }),
      )
    return new Partner(register, number, links)
  }

  get host(): string {
    return `old${this.number}.example`
  }
  get newHost(): string {
    return `new${this.number}.example`
  }
  get ids(): number[] {
    return this.links.map(({ id }) => id)
  }
  /** The change that moves it. */
  get move(): object {
    return { steps: [{ do: 'move-host', from: this.host, to: this.newHost }] }
  }

  /** Waits until a proposal is worked out. */
  async ready(proposal: Proposal): Promise<Proposal> {
    for (let tries = 0; tries < 1000; tries++) {
      const now = await readProposal(this.register.db, proposal.id)
      if (now.state !== 'computing') return now
      await new Promise((resolve) => setTimeout(resolve, 10))
    }
    throw new Error('the proposal was never worked out')
  }

  async propose(input: object): Promise<Proposal> {
    const given = proposalCreate.parse({ reason: 'for a test', ...input })
    return this.ready(await makeProposal(this.register.db, administrator, given))
  }

  /** The proposal that moves all its links. */
  proposeMove(more: object = {}): Promise<Proposal> {
    return this.propose({ select: { host: this.host }, change: this.move, ...more })
  }

  async rows(proposal: Proposal, query: object = {}): Promise<ProposalRow[]> {
    return (await listProposalRows(this.register.db, proposal.id, proposalRowsQuery.parse(query))).items
  }

  apply(proposal: Proposal): Promise<Proposal> {
    return makeChange(this.register.db, administrator, proposal.id, proposal.version)
  }

  link(index: number): Promise<Link> {
    return readLink(this.register.db, this.links[index]!.id)
  }

  /** Where its links lead now. */
  destinations(): Promise<string[]> {
    return Promise.all(this.links.map(async (_, index) => (await this.link(index)).destination))
  }
}
