#include "scores.h"

#include <algorithm>
#include <cstddef>

namespace fairlattice {

void score_totals(const std::vector<int>& group, const std::vector<int>& cell,
                  const std::vector<double>& w, const std::vector<double>& p, double total,
                  int groups, double* out) {
  const std::size_t n = groups;
  std::vector<double> sum(n);
  std::fill(out, out + n * p.size(), 0.0);
  for (std::size_t i = 0; i < w.size(); ++i) {
    out[group[i] - 1 + n * (cell[i] - 1)] += w[i];
    sum[group[i] - 1] += w[i];
  }
  for (std::size_t c = 0; c < p.size(); ++c)
    for (std::size_t k = 0; k < n; ++k) out[k + n * c] = (out[k + n * c] - sum[k] * p[c]) / total;
}

void residual_scores(const double* scores, int units, const std::vector<double>& row_share,
                     const std::vector<double>& column_share, double* out) {
  const int rows = row_share.size(), columns = column_share.size();
  std::vector<double> of_row(rows), of_column(columns);
  for (int k = 0; k < units; ++k) {
    of_row.assign(rows, 0);
    of_column.assign(columns, 0);
    for (int j = 0; j < columns; ++j)
      for (int i = 0; i < rows; ++i) {
        const double s = scores[k + static_cast<long>(units) * (i + static_cast<long>(rows) * j)];
        of_row[i] += s;
        of_column[j] += s;
      }
    for (int j = 0; j < columns; ++j)
      for (int i = 0; i < rows; ++i) {
        const long at = k + static_cast<long>(units) * (i + static_cast<long>(rows) * j);
        out[at] = scores[at] - column_share[j] * of_row[i] - row_share[i] * of_column[j];
      }
  }
}

void share_squares(const double* scores, int units, const std::vector<double>& p, int rows,
                   bool of_column, bool of_row, double* out) {
  const std::size_t n = units, cells = p.size(), height = rows;
  auto base = [&](std::size_t c) { return of_column ? c / height : of_row ? c % height : 0; };
  const std::size_t bases = of_column ? cells / height : of_row ? height : 1;
  std::vector<double> b(bases), of_base(n * bases);
  for (std::size_t c = 0; c < cells; ++c) {
    b[base(c)] += p[c];
    double* sum = &of_base[n * base(c)];
    for (std::size_t k = 0; k < n; ++k) sum[k] += scores[k + n * c];
  }
  for (std::size_t c = 0; c < cells; ++c) {
    const double* sum = &of_base[n * base(c)];
    const double q = p[c] / b[base(c)];
    double squares = 0;
    for (std::size_t k = 0; k < n; ++k) {
      const double score = scores[k + n * c] - q * sum[k];
      squares += score * score;
    }
    out[c] = squares / (b[base(c)] * b[base(c)]);
  }
}

}  // namespace fairlattice
