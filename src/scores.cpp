#include "scores.h"

namespace fairlattice {

void departure_scores(const double* scores, int units, const std::vector<double>& row_share,
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

void share_scores(const double* scores, int units, const std::vector<int>& base, int bases,
                  const std::vector<double>& q, const std::vector<double>& b, double* out) {
  const int cells = q.size();
  std::vector<double> of_base(bases);
  for (int k = 0; k < units; ++k) {
    of_base.assign(bases, 0);
    for (int c = 0; c < cells; ++c) of_base[base[c] - 1] += scores[k + static_cast<long>(units) * c];
    for (int c = 0; c < cells; ++c) {
      const long at = k + static_cast<long>(units) * c;
      out[at] = (scores[at] - q[c] * of_base[base[c] - 1]) / b[c];
    }
  }
}

}  // namespace fairlattice
