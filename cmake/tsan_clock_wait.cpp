// SPDX-License-Identifier: GPL-3.0-or-later
// For the thread sanitizer alone. GCC 12's runtime does not know pthread_cond_clockwait(), which timed waits
// on a steady clock are made of: it takes the mutex for held while the thread waits, and reports every access
// of the others. Here the wait is said in the call that it knows.
#include <pthread.h>
#include <ctime>

extern "C" int pthread_cond_clockwait(pthread_cond_t* condition, pthread_mutex_t* mutex, clockid_t clock,
                                      const timespec* until) {
    constexpr long nanoseconds = 1'000'000'000;
    timespec now{};
    clock_gettime(clock, &now);
    timespec wall{};
    clock_gettime(CLOCK_REALTIME, &wall);
    wall.tv_sec += until->tv_sec - now.tv_sec;
    wall.tv_nsec += until->tv_nsec - now.tv_nsec;
    if (wall.tv_nsec < 0) {
        wall.tv_nsec += nanoseconds;
        --wall.tv_sec;
    } else if (wall.tv_nsec >= nanoseconds) {
        wall.tv_nsec -= nanoseconds;
        ++wall.tv_sec;
    }
    return pthread_cond_timedwait(condition, mutex, &wall);
}
