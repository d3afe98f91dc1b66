-- wrk: random slugs of the bench's links, and the figures as one line of JSON.
local links = tonumber(os.getenv("LINKS"))
request = function()
  return wrk.format("GET", "/stop/" .. math.random(1, links), { ["Host"] = "bench.example", ["User-Agent"] = "Mozilla/5.0 (X11; Linux x86_64; rv:132.0) Gecko/20100101 Firefox/132.0" })
end
done = function(summary, latency)
  io.write(string.format('{"requests":%d,"seconds":%f,"p99":%f,"errors":%d}\n', summary.requests, summary.duration / 1e6, latency:percentile(99), summary.errors.connect + summary.errors.read + summary.errors.write + summary.errors.timeout + summary.errors.status))
end
