// What the gateway is measured against: a bare node:http server that sends one constant redirect.
import { createServer } from 'node:http'

createServer((request, response) => {
  response.writeHead(302, { Location: 'https://www.example/page' })
  response.end()
}).listen(Number(process.argv[2]), '127.0.0.1', 4096)
