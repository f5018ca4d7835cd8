#include "correction.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace fairlattice {

Correction correction_of(const std::string& name) {
  if (name == "holm") return Correction::holm;
  return name == "bonferroni" ? Correction::bonferroni : Correction::benjamini_hochberg;
}

void correct(double* p, std::size_t size, Correction how) {
  std::vector<std::size_t> up;
  for (std::size_t i = 0; i < size; ++i)
    if (!std::isnan(p[i])) up.push_back(i);
  const std::size_t m = up.size();
  std::stable_sort(up.begin(), up.end(), [p](std::size_t a, std::size_t b) { return p[a] < p[b]; });
  if (how == Correction::benjamini_hochberg) {
    double least = 1;
    for (std::size_t k = m; k-- > 0;) p[up[k]] = least = std::min(least, m / (k + 1.0) * p[up[k]]);
    return;
  }
  double most = 0;
  for (std::size_t k = 0; k < m; ++k) {
    const double times =
        how == Correction::holm ? static_cast<double>(m - k) : static_cast<double>(m);
    p[up[k]] = most = std::max(most, std::min(1.0, times * p[up[k]]));
  }
}

}  // namespace fairlattice
