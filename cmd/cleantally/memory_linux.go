package main

/*
#include <malloc.h>

// SQLite takes its memory from one heap: the C library would keep one for each
// thread that ever asked, each with what its largest query needed. What a query
// sorts by goes back to the machine when it is done. This is said before the first
// thread is there: one that has asked keeps its heap.
__attribute__((constructor)) static void little_memory(void) {
#ifdef __GLIBC__
	mallopt(M_ARENA_MAX, 1);
	mallopt(M_MMAP_THRESHOLD, 256 << 10);
	mallopt(M_TRIM_THRESHOLD, 256 << 10);
#endif
}
*/
import "C"
