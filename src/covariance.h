// Linear algebra of covariances.
#pragma once
#include <vector>

namespace fairlattice {

// B becomes inv(A) B for a covariance A of so many rows, by its Cholesky root on the scale of
// correlations. False, with B spoilt, when A is singular: a variance is not positive, or a root
// less than 0.000001 of what it would be alone.
bool divide_by_covariance(std::vector<double> A, int rows, double* B, int columns);

}  // namespace fairlattice
