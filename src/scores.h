// Scores: matrices of one row a unit and one column a cell, down its columns.
#pragma once

#include <vector>

namespace fairlattice {

// Scores of d_ij = p_ij - p_i. p_.j from scores of p: score of p_ij, less the row's share times the score of the
// column's total, less the column's share times the score of the row's total.
void departure_scores(const double* scores, int units, const std::vector<double>& row_share,
                      const std::vector<double>& column_share, double* out);

// Scores of q = p / b, b the proportion of the base that a cell belongs to: (score of p - q score of b) / b.
void share_scores(const double* scores, int units, const std::vector<int>& base, int bases,
                  const std::vector<double>& q, const std::vector<double>& b, double* out);

}  // namespace fairlattice
