-- wrk: redirects, mistypings, or a scan, by MODE; and the figures as one line of JSON.
local links = tonumber(os.getenv("LINKS"))
local mode = os.getenv("MODE")
local scan = tonumber(os.getenv("SCAN_FROM") or "0")
local agent = "Mozilla/5.0 (X11; Linux x86_64; rv:132.0) Gecko/20100101 Firefox/132.0"
local marks = { ".", ",", ")", "!", "x" }
-- Mistypings come again: a few often, most seldom.
local function mistyping()
  local rank = math.floor(math.exp(math.random() * math.log(2000)))
  local number = (rank * 7919) % links + 1
  if rank % 3 == 0 then return "/stpo/" .. number end
  if rank % 3 == 1 then return "/stop/" .. number .. marks[rank % 5 + 1] end
  return "/stops/" .. number
end
local function anything()
  scan = scan + 1
  return string.format("/%x-%d", (scan * 2654435761) % 4294967296, scan)
end
local turn = 0
request = function()
  turn = turn + 1
  local headers = { ["Host"] = "bench.example", ["User-Agent"] = agent }
  local path
  if mode == "misses" then path = mistyping()
  elseif mode == "scan" and turn % 2 == 0 then
    path = anything()
    headers["X-Forwarded-For"] = string.format("198.51.%d.%d", math.random(0, 19), math.random(0, 249))
  elseif mode == "one" and turn % 2 == 0 then
    path = "/never-there"
    headers["X-Forwarded-For"] = string.format("198.51.%d.%d", math.random(0, 19), math.random(0, 249))
  elseif mode == "real" then
    path = "/stpo/4417"
    headers["X-Forwarded-For"] = string.format("203.0.113.%d", math.random(0, 249))
  else path = "/stop/" .. math.random(1, links) end
  return wrk.format("GET", path, headers)
end
done = function(summary, latency)
  io.write(string.format('{"requests":%d,"seconds":%f,"p99":%f,"errors":%d}\n', summary.requests, summary.duration / 1e6, latency:percentile(99), summary.errors.connect + summary.errors.read + summary.errors.write + summary.errors.timeout))
end
