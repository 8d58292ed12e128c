/* A computer whose clock is wrong: loaded before the C library, it adds the seconds that a file holds to what the time is. A monotonic clock stays what it is. */
#define _GNU_SOURCE
#include <dlfcn.h>
#include <fcntl.h>
#include <stdint.h>
#include <stdlib.h>
#include <sys/mman.h>
#include <sys/time.h>
#include <time.h>
#include <unistd.h>

static const int64_t none = 0;
static const volatile int64_t *beside = &none;

__attribute__((constructor)) static void begin(void) {
    const char *name = getenv("CLOCK_FILE");
    int file = name ? open(name, O_RDONLY | O_CLOEXEC) : -1;
    if (file < 0) return;
    void *found = mmap(NULL, sizeof none, PROT_READ, MAP_SHARED, file, 0);
    if (found != MAP_FAILED) beside = found;
    close(file);
}

int clock_gettime(clockid_t clock, struct timespec *at) {
    static int (*real)(clockid_t, struct timespec *);
    if (!real) real = (int (*)(clockid_t, struct timespec *))dlsym(RTLD_NEXT, "clock_gettime");
    int failed = real(clock, at);
    if (!failed && (clock == CLOCK_REALTIME || clock == CLOCK_REALTIME_COARSE)) at->tv_sec += *beside;
    return failed;
}

int gettimeofday(struct timeval *restrict at, void *restrict zone) {
    struct timespec now;
    (void)zone;
    if (clock_gettime(CLOCK_REALTIME, &now)) return -1;
    at->tv_sec = now.tv_sec;
    at->tv_usec = now.tv_nsec / 1000;
    return 0;
}

time_t time(time_t *at) {
    struct timespec now;
    if (clock_gettime(CLOCK_REALTIME, &now)) return -1;
    if (at) *at = now.tv_sec;
    return now.tv_sec;
}
