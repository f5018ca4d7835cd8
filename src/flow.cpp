#include "flow.h"

#include <algorithm>

namespace fairlattice {

// Edmonds & Karp (1972): the shortest way with room left, as often as there is one.
double most_flow(std::vector<double> capacity, std::size_t points, std::size_t source,
                 std::size_t sink, double enough) {
  const std::size_t nowhere = points;
  double total = 0;
  if (source == sink) return enough;
  while (total < enough) {
    std::vector<std::size_t> from(points, nowhere), queue{source};
    from[source] = source;
    for (std::size_t next = 0; next < queue.size() && from[sink] == nowhere; ++next) {
      const std::size_t at = queue[next];
      for (std::size_t to = 0; to < points; ++to) {
        if (from[to] != nowhere || capacity[at + to * points] <= 0) continue;
        from[to] = at;
        queue.push_back(to);
      }
    }
    if (from[sink] == nowhere) break;
    double room = enough - total;
    for (std::size_t at = sink; at != source; at = from[at])
      room = std::min(room, capacity[from[at] + at * points]);
    for (std::size_t at = sink; at != source; at = from[at]) {
      capacity[from[at] + at * points] -= room;
      capacity[at + from[at] * points] += room;
    }
    total += room;
  }
  return total;
}

}  // namespace fairlattice
