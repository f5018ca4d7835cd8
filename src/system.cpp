#include "system.h"

#include <sys/stat.h>

#ifdef _WIN32
#include <windows.h>
#else
#include <cerrno>
#include <csignal>
#endif

namespace fairlattice {

int kind_of_file(const std::string& path) {
  struct stat found;
  if (stat(path.c_str(), &found) != 0) return 0;
  if (S_ISREG(found.st_mode)) return 1;
  return S_ISDIR(found.st_mode) ? 2 : 3;
}

#ifdef _WIN32
bool is_running(int process) {
  HANDLE handle = OpenProcess(SYNCHRONIZE, FALSE, static_cast<DWORD>(process));
  if (handle == nullptr) return GetLastError() == ERROR_ACCESS_DENIED;
  const bool running = WaitForSingleObject(handle, 0) == WAIT_TIMEOUT;
  CloseHandle(handle);
  return running;
}
#else
// One that may not be signalled is another user's, and lives.
bool is_running(int process) { return kill(process, 0) == 0 || errno == EPERM; }
#endif

}  // namespace fairlattice
