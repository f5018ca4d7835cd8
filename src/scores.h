// Scores: matrices of one row a unit and one column a cell, down its columns.
#pragma once

#include <vector>

namespace fairlattice {

// Sums over groups (1..groups) of u = w (e - p) / N, e being 1 in the cell (1..cells) that
// a weight stands in.
void score_totals(const std::vector<int>& group, const std::vector<int>& cell,
                  const std::vector<double>& w, const std::vector<double>& p, double total,
                  int groups, double* out);

// Scores of d_ij = p_ij - p_i. p_.j from scores of p: score of p_ij, less the row's share times the
// score of the column's total, less the column's share times the score of the row's total.
void residual_scores(const double* scores, int units, const std::vector<double>& row_share,
                     const std::vector<double>& column_share, double* out);

// Sums over the units of the squared scores of q = p / b, b the proportion of the base that a cell
// belongs to (its column, its row or the whole): (score of p - q score of b) / b. `p` is a matrix
// of so many rows.
void share_squares(const double* scores, int units, const std::vector<double>& p, int rows,
                   bool of_column, bool of_row, double* out);

}  // namespace fairlattice
