//go:build !linux

package main

// oneArena is for the C library of Linux.
func oneArena() {}
