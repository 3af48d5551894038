// A disk that tells what it is asked to do, for the test of power cuts: it
// stands between the program and the C library, and writes down in one log every
// write, cut and sync of the data file and of the log beside it. What a disk that
// lies would have kept of it is worked out from that.
#define _GNU_SOURCE
#include <dlfcn.h>
#include <fcntl.h>
#include <pthread.h>
#include <stdarg.h>
#include <stdint.h>
#include <stdlib.h>
#include <string.h>
#include <sys/types.h>
#include <unistd.h>

static pthread_mutex_t lock = PTHREAD_MUTEX_INITIALIZER;
static char files[65536]; // by descriptor: 1 the data file, 2 its log
static int to = -1;

static ssize_t real_write(int fd, const void *from, size_t n) {
  static ssize_t (*f)(int, const void *, size_t);
  if (!f) f = dlsym(RTLD_NEXT, "write");
  return f(fd, from, n);
}

static int of(int fd) { return fd >= 0 && fd < (int)sizeof files ? files[fd] : 0; }

static int known(const char *path) {
  size_t n = strlen(path);
  if (n >= 7 && !strcmp(path + n - 7, "firm.db")) return 1;
  if (n >= 11 && !strcmp(path + n - 11, "firm.db-wal")) return 2;
  return 0;
}

static void tell(char what, int file, int64_t at, const void *data, int64_t n) {
  const char *name = getenv("DISK_LOG");
  if (!name || !file) return;
  pthread_mutex_lock(&lock);
  if (to < 0) {
    static int (*f)(const char *, int, ...);
    if (!f) f = dlsym(RTLD_NEXT, "open");
    to = f(name, O_WRONLY | O_APPEND | O_CREAT, 0600);
  }
  int64_t bytes = data ? n : 0;
  char *b = malloc(18 + bytes);
  b[0] = what, b[1] = file;
  memcpy(b + 2, &at, 8), memcpy(b + 10, &n, 8);
  if (bytes) memcpy(b + 18, data, bytes);
  real_write(to, b, 18 + bytes);
  free(b);
  pthread_mutex_unlock(&lock);
}

static int opened(const char *path, int fd) {
  if (fd >= 0 && fd < (int)sizeof files) files[fd] = known(path);
  return fd;
}

#define OPEN(name)                                        \
  int name(const char *path, int flags, ...) {            \
    static int (*f)(const char *, int, ...);              \
    if (!f) f = dlsym(RTLD_NEXT, #name);                  \
    va_list a;                                            \
    va_start(a, flags);                                   \
    mode_t mode = va_arg(a, int);                         \
    va_end(a);                                            \
    return opened(path, f(path, flags, mode));            \
  }
OPEN(open)
OPEN(open64)

int close(int fd) {
  static int (*f)(int);
  if (!f) f = dlsym(RTLD_NEXT, "close");
  if (fd >= 0 && fd < (int)sizeof files) files[fd] = 0;
  return f(fd);
}

ssize_t write(int fd, const void *from, size_t n) {
  int file = of(fd);
  off_t at = file ? lseek(fd, 0, SEEK_CUR) : 0;
  ssize_t done = real_write(fd, from, n);
  if (file && done > 0) tell('w', file, at, from, done);
  return done;
}

#define PWRITE(name)                                                   \
  ssize_t name(int fd, const void *from, size_t n, off64_t at) {       \
    static ssize_t (*f)(int, const void *, size_t, off64_t);           \
    if (!f) f = dlsym(RTLD_NEXT, #name);                               \
    ssize_t done = f(fd, from, n, at);                                 \
    if (of(fd) && done > 0) tell('w', of(fd), at, from, done);         \
    return done;                                                       \
  }
PWRITE(pwrite)
PWRITE(pwrite64)

#define CUT(name)                                          \
  int name(int fd, off64_t to) {                           \
    static int (*f)(int, off64_t);                         \
    if (!f) f = dlsym(RTLD_NEXT, #name);                   \
    int done = f(fd, to);                                  \
    if (!done) tell('c', of(fd), to, NULL, 0);             \
    return done;                                           \
  }
CUT(ftruncate)
CUT(ftruncate64)

#define SYNC(name)                                         \
  int name(int fd) {                                       \
    static int (*f)(int);                                  \
    if (!f) f = dlsym(RTLD_NEXT, #name);                   \
    int done = f(fd);                                      \
    if (!done) tell('s', of(fd), 0, NULL, 0);              \
    return done;                                           \
  }
SYNC(fsync)
SYNC(fdatasync)
