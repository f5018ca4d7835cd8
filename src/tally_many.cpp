#include "tally_many.h"

#include <algorithm>
#include <cstdint>
#include <thread>

namespace fairlattice {
namespace {

// Records of one unit that are taken together: their codes and weights stay in the cache while all
// tables add them up.
const std::size_t kBlock = 1u << 14;
// Tables of more cells than this are added up one by one, since their sums would not
// stay in the cache.
const std::size_t kSmall = 4096;

struct Block {
  int unit;
  std::size_t from, to;
};

// The records that are to be tallied, unit by unit and in their own order within one; codes as
// small as they can be.
template <class Code>
struct Ordered {
  std::vector<std::vector<Code>> codes;
  std::vector<double> weight, count;
  std::vector<Block> blocks;
};

std::vector<std::size_t> order_by_unit(const Many& r, std::vector<Block>& blocks) {
  std::vector<std::size_t> begin(static_cast<std::size_t>(r.units) + 2, 0);
  const auto inside = [&](std::size_t i) { return !r.aside || r.aside[i] == 0; };
  const auto unit = [&](std::size_t i) { return static_cast<std::size_t>(r.unit ? r.unit[i] : 1); };
  for (std::size_t i = 0; i < r.size; ++i)
    if (inside(i)) ++begin[unit(i) + 1];
  for (std::size_t u = 1; u < begin.size(); ++u) begin[u] += begin[u - 1];
  for (int u = 1; u <= r.units; ++u)
    for (std::size_t from = begin[u]; from < begin[u + 1]; from += kBlock)
      blocks.push_back({u, from, std::min(from + kBlock, begin[u + 1])});
  std::vector<std::size_t> order(begin.back());
  for (std::size_t i = 0; i < r.size; ++i)
    if (inside(i)) order[begin[unit(i)]++] = i;
  return order;
}

// Each piece of work on the thread that is free; what comes out does not depend on which that is.
template <class Work>
void share(std::size_t pieces, int threads, Work work) {
  const std::size_t workers =
      std::min<std::size_t>(std::max(threads, 1), std::max<std::size_t>(pieces, 1));
  std::vector<std::thread> pool;
  const auto every = [&](std::size_t worker) {
    for (std::size_t k = worker; k < pieces; k += workers) work(k);
  };
  for (std::size_t k = 1; k < workers; ++k) pool.emplace_back(every, k);
  every(0);
  for (auto& thread : pool) thread.join();
}

template <class Code>
Ordered<Code> ordered(const Many& r, int threads) {
  Ordered<Code> out;
  const std::vector<std::size_t> order = order_by_unit(r, out.blocks);
  out.codes.resize(r.codes.size());
  share(r.codes.size(), threads, [&](std::size_t q) {
    out.codes[q].resize(order.size());
    for (std::size_t i = 0; i < order.size(); ++i) {
      const int code = r.codes[q][order[i]];
      out.codes[q][i] = static_cast<Code>(code < 0 ? 0 : code);
    }
  });
  const auto gathered = [&](const double* from) {
    std::vector<double> to(from ? order.size() : 0);
    for (std::size_t i = 0; i < to.size(); ++i) to[i] = from[order[i]];
    return to;
  };
  out.weight = gathered(r.weight);
  out.count = gathered(r.count);
  return out;
}

// One table: how its cells are numbered, its sums of the unit at hand, and what it has found.
struct Table {
  Asked asked;
  std::size_t down, across, each;
  std::vector<Cell> sums;
  int unit = 0;
  Tally found;

  Table(const Many& r, const Asked& a) : asked(a) {
    const auto slots = [&](int q) {
      return q < 0 ? std::size_t(1) : static_cast<std::size_t>(r.answers[q]) + 1;
    };
    down = slots(a.down);
    across = a.across < 0 ? 2 : slots(a.across);
    each = slots(a.each);
  }
  std::size_t size() const { return down * across * each; }

  // What was added up of a unit is kept, and the sums begin anew.
  void close() {
    if (!unit) return;
    for (std::size_t key = 0; key < sums.size(); ++key) {
      if (sums[key].records == 0) continue;
      found.down.push_back(static_cast<int>(key % down));
      found.across.push_back(static_cast<int>(key / down % across));
      found.each.push_back(static_cast<int>(key / down / across));
      found.unit.push_back(unit);
      found.cell.push_back(sums[key]);
      sums[key] = Cell{0, 0, 0, 0};
    }
    unit = 0;
  }

  template <class Code>
  void add(const Ordered<Code>& r, const Block& block) {
    if (sums.empty()) sums.assign(size(), Cell{0, 0, 0, 0});
    if (unit != block.unit) close();
    unit = block.unit;
    const Code* d = r.codes[asked.down].data();
    const Code* a = asked.across < 0 ? nullptr : r.codes[asked.across].data();
    const Code* e = asked.each < 0 ? nullptr : r.codes[asked.each].data();
    const double* w = r.weight.empty() ? nullptr : r.weight.data();
    const double* k = r.count.empty() ? nullptr : r.count.data();
    if (a && w && !e && !k) return add_weighted_pair(d, a, w, block);
    for (std::size_t i = block.from; i < block.to; ++i) {
      const std::size_t key = d[i] + down * ((a ? a[i] : 1) + across * (e ? e[i] : 0));
      const double weight = w ? w[i] : 1.0, count = k ? k[i] : 1.0;
      Cell& c = sums[key];
      c.records += 1;
      c.respondents += count;
      c.weight += count * weight;
      c.weight_squared += count * weight * weight;
    }
  }

  template <class Code>
  void add_weighted_pair(const Code* d, const Code* a, const double* w, const Block& block) {
    Cell* out = sums.data();
    const std::uint32_t stride = static_cast<std::uint32_t>(down);
    for (std::size_t i = block.from; i < block.to; ++i) {
      const double weight = w[i];
      Cell& c = out[d[i] + stride * a[i]];
      c.records += 1;
      c.respondents += 1;
      c.weight += weight;
      c.weight_squared += weight * weight;
    }
  }
};

template <class Code>
std::vector<Tally> passed(const Many& records, const std::vector<Asked>& asked, int threads) {
  const Ordered<Code> r = ordered<Code>(records, threads);
  std::vector<Table> tables;
  for (const Asked& a : asked) tables.emplace_back(records, a);
  std::vector<std::size_t> small, large;
  for (std::size_t t = 0; t < tables.size(); ++t)
    (tables[t].size() <= kSmall ? small : large).push_back(t);
  const std::size_t groups =
      std::min<std::size_t>(std::max(threads, 1), std::max<std::size_t>(small.size(), 1));
  share(groups, threads, [&](std::size_t g) {
    for (const Block& block : r.blocks)
      for (std::size_t k = g; k < small.size(); k += groups) tables[small[k]].add(r, block);
    for (std::size_t k = g; k < small.size(); k += groups) tables[small[k]].close();
  });
  share(large.size(), threads, [&](std::size_t k) {
    Table& table = tables[large[k]];
    for (const Block& block : r.blocks) table.add(r, block);
    table.close();
    std::vector<Cell>().swap(table.sums);
  });
  std::vector<Tally> out;
  for (Table& table : tables) out.push_back(std::move(table.found));
  return out;
}

}  // namespace

std::vector<Tally> tally_many(const Many& records, const std::vector<Asked>& asked, int threads) {
  const int most = records.answers.empty()
                       ? 0
                       : *std::max_element(records.answers.begin(), records.answers.end());
  return most < 256 ? passed<std::uint8_t>(records, asked, threads)
                    : passed<std::uint16_t>(records, asked, threads);
}

}  // namespace fairlattice
