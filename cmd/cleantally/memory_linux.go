package main

/*
#include <malloc.h>

static void one_arena(void) {
#ifdef __GLIBC__
	mallopt(M_ARENA_MAX, 1);
#endif
}
*/
import "C"

// oneArena has SQLite take its memory from one heap: the C library would keep
// one for each thread that ever asked, each with what its largest query needed.
func oneArena() { C.one_arena() }
