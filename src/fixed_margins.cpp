#include "fixed_margins.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <numeric>
#include <thread>
#include <unordered_map>

namespace fairlattice {
namespace {

const double kTie = 1e-7;  // relative tolerance on probabilities, absolute on S

// log(k!) for k = 0..n.
std::vector<double> log_factorials(int n) {
  std::vector<double> out(n + 1, 0.0);
  long double sum = 0;
  for (int k = 2; k <= n; ++k) out[k] = static_cast<double>(sum += std::log(static_cast<long double>(k)));
  return out;
}

// ---- exact: column after column, over all ways to fill it ----
// What is left of the rows (sorted: the rest of the table does not care which row is which) is a node. All ways to reach a node with
// the same S are one past. Whatever follows from a node weighs left! / (prod(rows left!) prod(columns left!)) in sum, so a past whose
// continuations are all no more probable than the observed table is added whole, and one whose continuations are all more probable is dropped.

using Node = std::vector<int>;

struct NodeHash {
  std::size_t operator()(const Node& node) const {
    std::uint64_t h = 1469598103934665603ULL;
    for (int x : node) h = (h ^ static_cast<std::uint64_t>(x + 1)) * 1099511628211ULL;
    return static_cast<std::size_t>(h ^ (h >> 29));
  }
};

struct Past {
  double S, ways;
};

// Pasts by S, those equal but for rounding as one.
using Pasts = std::unordered_map<std::int64_t, Past>;

inline std::int64_t key_of(double S) { return static_cast<std::int64_t>(std::llround(S * 1e10)); }

struct Edge {
  Node to;
  double S, ways;
};

class Network {
 public:
  Network(const Margins& m, double most_steps, double most_bytes)
      : rows_(m.rows), columns_(m.columns), threshold_(m.observed - kTie), most_steps_(most_steps), most_bytes_(most_bytes) {
    if (rows_.size() > columns_.size()) std::swap(rows_, columns_);  // the shorter side is the node
    std::sort(rows_.begin(), rows_.end());
    std::sort(columns_.rbegin(), columns_.rend());
    n_ = std::accumulate(rows_.begin(), rows_.end(), 0);
    lf_ = log_factorials(n_);
    left_.assign(columns_.size() + 1, 0);
    log_columns_left_.assign(columns_.size() + 1, 0.0);
    for (std::size_t j = columns_.size(); j-- > 0;) {
      left_[j] = left_[j + 1] + columns_[j];
      log_columns_left_[j] = log_columns_left_[j + 1] + lf_[columns_[j]];
    }
    log_all_ = log_rest(rows_, 0);
  }

  ExactResult run() {
    std::unordered_map<Node, Pasts, NodeHash> stage, next;
    stage[rows_][0] = Past{0.0, 1.0};
    double p = 0;
    for (std::size_t j = 0; j < columns_.size(); ++j) {
      next.clear();
      double held = 0;
      std::unordered_map<Node, Bounds, NodeHash> bounds;
      for (auto& entry : stage) {
        std::vector<Past> pasts;
        for (auto& past : entry.second) pasts.push_back(past.second);
        std::sort(pasts.begin(), pasts.end(), [](const Past& a, const Past& b) { return a.S < b.S; });
        // mass of the pasts from k on
        std::vector<double> mass(pasts.size() + 1, 0.0);
        for (std::size_t k = pasts.size(); k-- > 0;) mass[k] = mass[k + 1] + pasts[k].ways * std::exp(-pasts[k].S - scale_of(pasts));
        const double scale = scale_of(pasts);
        if (!edges_of(entry.first, j)) return ExactResult{0, false, steps_};
        for (const Edge& edge : edges_) {
          auto found = bounds.find(edge.to);
          if (found == bounds.end()) found = bounds.emplace(edge.to, bounds_of(edge.to, j + 1)).first;
          const Bounds& b = found->second;
          const auto from = [&](double least) {
            return std::lower_bound(pasts.begin(), pasts.end(), least, [](const Past& a, double S) { return a.S < S; }) - pasts.begin();
          };
          const std::size_t whole = from(threshold_ - edge.S - b.low);
          const std::size_t some = std::min<std::size_t>(whole, from(threshold_ - edge.S - b.high));
          if (whole < pasts.size()) p += edge.ways * mass[whole] * std::exp(scale - edge.S + b.log_rest - log_all_);
          if (some < whole) {
            Pasts& into = next[edge.to];
            for (std::size_t k = some; k < whole; ++k) {
              const double S = pasts[k].S + edge.S;
              auto place = into.emplace(key_of(S), Past{S, 0.0});
              place.first->second.ways += pasts[k].ways * edge.ways;
              if (place.second) held += 56;
            }
            steps_ += static_cast<double>(whole - some);
            if (steps_ > most_steps_ || held > most_bytes_) return ExactResult{0, false, steps_};
          }
        }
      }
      stage.swap(next);
    }
    return ExactResult{std::min(1.0, p), true, steps_};
  }

 private:
  struct Bounds {
    double low, high, log_rest;  // least and greatest S of what follows; log of its weight
  };

  static double scale_of(const std::vector<Past>& pasts) { return -pasts.front().S; }

  double log_rest(const Node& node, std::size_t j) const {
    double out = lf_[left_[j]] - log_columns_left_[j];
    for (int u : node) out -= lf_[u];
    return out;
  }

  // Sum of log factorials of x put into `parts` cells as evenly as can be: the least there is, since log k! is convex.
  double even(int x, int parts) const {
    const int each = x / parts, more = x % parts;
    return more * lf_[each + 1] + (parts - more) * lf_[each];
  }

  // x put into the fullest cells first: the greatest there is. `room` is in falling order.
  double packed(int x, const std::vector<int>& room) const {
    double out = 0;
    for (std::size_t i = 0; i < room.size() && x > 0; ++i) {
      const int here = std::min(x, room[i]);
      out += lf_[here];
      x -= here;
    }
    return out;
  }

  Bounds bounds_of(const Node& node, std::size_t j) const {
    const int k = static_cast<int>(columns_.size() - j);
    if (k == 0) return Bounds{0, 0, 0};
    if (k == 1) {
      double S = 0;
      for (int u : node) S += lf_[u];
      return Bounds{S, S, log_rest(node, j)};
    }
    const std::vector<int> columns(columns_.begin() + j, columns_.end());
    const std::vector<int> rows(node.rbegin(), node.rend());
    double low_rows = 0, low_columns = 0, high_rows = 0, high_columns = 0;
    for (int u : node) {
      low_rows += even(u, k);
      high_rows += packed(u, columns);
    }
    for (int c : columns) {
      low_columns += even(c, static_cast<int>(node.size()));
      high_columns += packed(c, rows);
    }
    // a rounding error must not push a table over an edge that it stands on
    return Bounds{std::max(low_rows, low_columns) - 1e-9, std::min(high_rows, high_columns) + 1e-9, log_rest(node, j)};
  }

  // All ways to fill column j from what is left of the rows, equal ones together.
  bool edges_of(const Node& node, std::size_t j) {
    edges_.clear();
    if (j + 1 == columns_.size()) {
      double S = 0;
      for (int u : node) S += lf_[u];
      edges_.push_back(Edge{Node(node.size(), 0), S, 1.0});
      return true;
    }
    std::vector<int> room(node.size() + 1, 0);  // what the rows from i on can still take
    for (std::size_t i = node.size(); i-- > 0;) room[i] = room[i + 1] + node[i];
    Node rest = node;
    std::unordered_map<Node, std::unordered_map<std::int64_t, Past>, NodeHash> merged;
    if (!fill(node, rest, room, 0, columns_[j], 0.0, merged)) return false;
    for (auto& to : merged)
      for (auto& one : to.second) edges_.push_back(Edge{to.first, one.second.S, one.second.ways});
    return true;
  }

  bool fill(const Node& node, Node& rest, const std::vector<int>& room, std::size_t i, int x, double S,
            std::unordered_map<Node, std::unordered_map<std::int64_t, Past>, NodeHash>& merged) {
    if (i == node.size()) {
      if (++steps_ > most_steps_) return false;
      Node to = rest;
      std::sort(to.begin(), to.end());
      merged[to].emplace(key_of(S), Past{S, 0.0}).first->second.ways += 1;
      return true;
    }
    for (int here = std::max(0, x - room[i + 1]), most = std::min(x, node[i]); here <= most; ++here) {
      rest[i] = node[i] - here;
      if (!fill(node, rest, room, i + 1, x - here, S + lf_[here], merged)) return false;
    }
    return true;
  }

  std::vector<int> rows_, columns_, left_;
  std::vector<double> lf_, log_columns_left_;
  double threshold_, most_steps_, most_bytes_, log_all_ = 0, steps_ = 0;
  int n_;
  std::vector<Edge> edges_;
};

// ---- random tables ----

std::uint64_t split_mix(std::uint64_t& state) {
  std::uint64_t z = (state += 0x9e3779b97f4a7c15ULL);
  z = (z ^ (z >> 30)) * 0xbf58476d1ce4e5b9ULL;
  z = (z ^ (z >> 27)) * 0x94d049bb133111ebULL;
  return z ^ (z >> 31);
}

// xoshiro256++ (Blackman & Vigna 2021).
class Stream {
 public:
  Stream(std::uint64_t seed, std::uint64_t number) {
    std::uint64_t state = seed;
    state = split_mix(state) ^ (number * 0xd1342543de82ef95ULL + 1);
    for (auto& s : s_) s = split_mix(state);
  }
  double uniform() {
    const std::uint64_t out = turn(s_[0] + s_[3], 23) + s_[0], t = s_[1] << 17;
    s_[2] ^= s_[0];
    s_[3] ^= s_[1];
    s_[1] ^= s_[2];
    s_[0] ^= s_[3];
    s_[2] ^= t;
    s_[3] = turn(s_[3], 45);
    return static_cast<double>(out >> 11) * 0x1.0p-53;
  }

 private:
  static std::uint64_t turn(std::uint64_t x, int k) { return (x << k) | (x >> (64 - k)); }
  std::uint64_t s_[4];
};

// How many of `draws` from `total` things, `marked` of them marked, are marked. Search outwards from the mode.
inline int hypergeometric(int total, int marked, int draws, const double* lf, Stream& stream) {
  const int least = std::max(0, draws - (total - marked)), most = std::min(draws, marked);
  if (least == most) return least;
  int mode = static_cast<int>((draws + 1.0) * (marked + 1.0) / (total + 2.0));
  mode = std::min(std::max(mode, least), most);
  const double at_mode = std::exp(lf[marked] - lf[mode] - lf[marked - mode] + lf[total - marked] - lf[draws - mode] -
                                  lf[total - marked - draws + mode] - lf[total] + lf[draws] + lf[total - draws]);
  for (;;) {  // again in the rare case that rounding leaves u beyond the sum
    double u = stream.uniform() - at_mode;
    if (u < 0) return mode;
    double up = at_mode, down = at_mode;
    int high = mode, low = mode;
    while (high < most || low > least) {
      if (high < most) {
        up *= static_cast<double>(draws - high) * (marked - high) / ((high + 1.0) * (total - marked - draws + high + 1.0));
        ++high;
        if ((u -= up) < 0) return high;
      }
      if (low > least) {
        down *= low * static_cast<double>(total - marked - draws + low) / (static_cast<double>(draws - low + 1) * (marked - low + 1));
        --low;
        if ((u -= down) < 0) return low;
      }
    }
  }
}

// Cell after cell, each hypergeometric given those before it (Patefield 1981). `see` gets every count.
template <class See>
void draw_table(const Margins& m, const double* lf, int n, Stream& stream, std::vector<int>& columns, See see) {
  columns = m.columns;
  int left = n;
  for (std::size_t i = 0; i + 1 < m.rows.size(); ++i) {
    int row = m.rows[i], total = left;
    for (std::size_t j = 0; j + 1 < columns.size(); ++j) {
      const int here = row ? hypergeometric(total, columns[j], row, lf, stream) : 0;
      see(here);
      total -= columns[j];
      columns[j] -= here;
      row -= here;
    }
    see(row);
    columns.back() -= row;
    left -= m.rows[i];
  }
  for (int rest : columns) see(rest);
}

int total_of(const Margins& m) { return std::accumulate(m.rows.begin(), m.rows.end(), 0); }

}  // namespace

ExactResult exact_test(const Margins& margins, double most_steps, double most_bytes) {
  return Network(margins, most_steps, most_bytes).run();
}

std::uint64_t count_random(const Margins& margins, std::uint64_t seed, int first, int last, int threads) {
  const int n = total_of(margins);
  const std::vector<double> lf = log_factorials(n);
  std::atomic<int> chunk(first);
  std::atomic<std::uint64_t> hits(0);
  const double threshold = margins.observed - kTie;
  auto work = [&]() {
    std::vector<int> columns;
    for (int now; (now = chunk.fetch_add(1)) < last;) {
      Stream stream(seed, now);
      std::uint64_t mine = 0;
      for (int k = 0; k < kChunk; ++k) {
        double S = 0;
        draw_table(margins, lf.data(), n, stream, columns, [&](int x) { S += lf[x]; });
        mine += S >= threshold;
      }
      hits += mine;
    }
  };
  std::vector<std::thread> helpers;
  for (int t = 1; t < std::min(threads, last - first); ++t) helpers.emplace_back(work);
  work();
  for (auto& helper : helpers) helper.join();
  return hits;
}

std::vector<int> random_table(const Margins& margins, std::uint64_t seed, int number) {
  const int n = total_of(margins);
  const std::vector<double> lf = log_factorials(n);
  Stream stream(seed, number);
  std::vector<int> columns, out;
  draw_table(margins, lf.data(), n, stream, columns, [&](int x) { out.push_back(x); });
  return out;
}

}  // namespace fairlattice
