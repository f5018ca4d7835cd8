#include "tally.h"

#include <algorithm>
#include <cstdint>
#include <thread>
#include <unordered_map>

namespace fairlattice {
namespace {

const std::size_t kShards = 8;  // fixed, so that sums do not depend on the number of threads
const std::size_t kShardFrom = 1u << 16;  // fewer records than this are one shard
const std::uint64_t kDenseCells =
    1u << 21;  // up to this many possible cells (64 MiB a shard) an array beats a map

// Slots per question: one for each answer and slot 0 for "no answer".
struct Grid {
  std::uint64_t down, across, each, units;
  explicit Grid(const Records& r)
      : down(r.down_answers + 1u),
        across(r.across_answers + 1u),
        each(r.each ? r.each_answers + 1u : 1u),
        units(r.unit ? r.units : 1u) {}
  std::uint64_t size() const { return down * across * each * units; }
};

inline std::uint64_t slot(int code) { return code < 0 ? 0 : code; }

inline std::uint64_t cell_of(const Records& r, const Grid& g, std::size_t i) {
  std::uint64_t cell = slot(r.down[i]) + g.down * slot(r.across[i]);
  if (r.each) cell += g.down * g.across * slot(r.each[i]);
  if (r.unit) cell += g.down * g.across * g.each * (r.unit[i] - 1);
  return cell;
}

inline void add(Cell& c, const Records& r, std::size_t i) {
  const double w = r.weight ? r.weight[i] : 1.0, k = r.count ? r.count[i] : 1.0;
  c.records += 1;
  c.respondents += k;
  c.weight += k * w;
  c.weight_squared += k * w * w;
}

void add(Cell& to, const Cell& from) {
  to.records += from.records;
  to.respondents += from.respondents;
  to.weight += from.weight;
  to.weight_squared += from.weight_squared;
}

// The sums of one shard: of the design units that its records are of, which often stand together.
struct Shard {
  std::uint64_t first = 0;
  std::vector<Cell> cells;

  bool has(std::uint64_t cell) const { return cell >= first && cell - first < cells.size(); }
};

Shard shard_of(const Records& r, const Grid& g, std::size_t from, std::size_t to) {
  const std::uint64_t of_unit = g.down * g.across * g.each;
  Shard out;
  int least = 1, most = 1;
  if (r.unit && from < to) {
    least = *std::min_element(r.unit + from, r.unit + to);
    most = *std::max_element(r.unit + from, r.unit + to);
  }
  out.first = of_unit * (least - 1);
  out.cells.assign(of_unit * (most - least + 1), Cell{0, 0, 0, 0});
  return out;
}

// The common case, two questions and a weight, without a test per record.
void add_weighted_pair(std::vector<Cell>& cells, const Records& r, const Grid& g, std::size_t from,
                       std::size_t to) {
  const int *down = r.down, *across = r.across;
  const double* weight = r.weight;
  Cell* out = cells.data();
  const std::uint32_t stride = static_cast<std::uint32_t>(g.down);
  for (std::size_t i = from; i < to; ++i) {
    const std::uint32_t d = down[i] < 0 ? 0 : down[i], a = across[i] < 0 ? 0 : across[i];
    const double w = weight[i];
    Cell& c = out[d + stride * a];
    c.records += 1;
    c.weight += w;
    c.weight_squared += w * w;
  }
  // without a count column a record is a respondent
  for (std::size_t k = 0; k < cells.size(); ++k) out[k].respondents = out[k].records;
}

void add_shard(Shard& shard, const Records& r, const Grid& g, std::size_t from, std::size_t to) {
  if (!r.each && !r.unit && !r.count && !r.aside && r.weight)
    return add_weighted_pair(shard.cells, r, g, from, to);
  for (std::size_t i = from; i < to; ++i)
    if (!r.aside || r.aside[i] == 0) add(shard.cells[cell_of(r, g, i) - shard.first], r, i);
}

void keep(Tally& t, const Grid& g, std::uint64_t key, const Cell& c) {
  t.down.push_back(static_cast<int>(key % g.down));
  key /= g.down;
  t.across.push_back(static_cast<int>(key % g.across));
  key /= g.across;
  t.each.push_back(static_cast<int>(key % g.each));
  t.unit.push_back(static_cast<int>(key / g.each) + 1);
  t.cell.push_back(c);
}

Tally dense(const Records& r, const Grid& g, int threads) {
  const std::size_t shards = r.size < kShardFrom ? 1 : kShards;
  const std::size_t workers = std::min<std::size_t>(std::max(threads, 1), shards);
  std::vector<Shard> part(shards);
  auto work = [&](std::size_t worker) {
    for (std::size_t s = worker; s < shards; s += workers) {
      const std::size_t from = r.size * s / shards, to = r.size * (s + 1) / shards;
      part[s] = shard_of(r, g, from, to);
      add_shard(part[s], r, g, from, to);
    }
  };
  std::vector<std::thread> pool;
  for (std::size_t k = 1; k < workers; ++k) pool.emplace_back(work, k);
  work(0);
  for (auto& thread : pool) thread.join();

  Tally out;
  for (std::uint64_t key = 0; key < g.size(); ++key) {
    Cell c{0, 0, 0, 0};
    for (const Shard& shard : part)
      if (shard.has(key)) add(c, shard.cells[key - shard.first]);
    if (c.records > 0) keep(out, g, key, c);
  }
  return out;
}

Tally sparse(const Records& r, const Grid& g) {
  std::unordered_map<std::uint64_t, Cell> cells;
  for (std::size_t i = 0; i < r.size; ++i)
    if (!r.aside || r.aside[i] == 0)
      add(cells.emplace(cell_of(r, g, i), Cell{0, 0, 0, 0}).first->second, r, i);
  std::vector<std::uint64_t> keys;
  for (const auto& entry : cells) keys.push_back(entry.first);
  std::sort(keys.begin(), keys.end());
  Tally out;
  for (std::uint64_t key : keys) keep(out, g, key, cells[key]);
  return out;
}

}  // namespace

Tally tally(const Records& records, int threads) {
  const Grid grid(records);
  return grid.size() <= kDenseCells ? dense(records, grid, threads) : sparse(records, grid);
}

}  // namespace fairlattice
