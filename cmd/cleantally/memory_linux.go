package main

/*
#include <malloc.h>

// SQLite takes its memory from one heap: the C library would keep one for each
// thread that ever asked, each with what its largest query needed. This is said
// before the first thread is there: one that has asked keeps its heap.
__attribute__((constructor)) static void one_arena(void) {
#ifdef __GLIBC__
	mallopt(M_ARENA_MAX, 1);
#endif
}
*/
import "C"
