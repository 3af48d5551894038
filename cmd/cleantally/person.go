package main

import (
	"fmt"

	"cleantally/books"
	"cleantally/core/rights"

	"github.com/spf13/cobra"
)

// personCommand is what who has the data directory may do about who signs in:
// the way back in for an owner who forgot the password.
func personCommand() *cobra.Command {
	var p place
	c := &cobra.Command{Use: "person", Short: "Let somebody sign in, or give them a new password"}
	var name string
	var role string
	add := &cobra.Command{Use: "add E-MAIL", Short: "Let another person sign in, and print the password that they are given", Args: cobra.ExactArgs(1), RunE: func(c *cobra.Command, args []string) error {
		return p.existing(c.Context(), p.with, func(b *books.Book) error {
			password, err := b.AddPerson(c.Context(), name, args[0], rights.Role(role))
			return given(c, args[0], password, err)
		})
	}}
	p.flags(add, true)
	add.Flags().StringVar(&name, "name", "", "the person's name")
	add.Flags().StringVar(&role, "as", string(rights.Bookkeeper), "what they are: owner, bookkeeper, biller, cashier or reader")
	if err := add.MarkFlagRequired("name"); err != nil {
		panic(err) // the flag is defined above
	}
	reset := &cobra.Command{Use: "reset E-MAIL", Short: "Give a person a new password, print it, and end their sessions", Args: cobra.ExactArgs(1), RunE: func(c *cobra.Command, args []string) error {
		return p.existing(c.Context(), p.with, func(b *books.Book) error {
			password, err := b.ResetPassword(c.Context(), args[0])
			return given(c, args[0], password, err)
		})
	}}
	p.flags(reset, true)
	c.AddCommand(add, reset)
	return c
}

func given(c *cobra.Command, email, password string, err error) error {
	if err == nil {
		fmt.Fprintf(c.OutOrStdout(), "%s signs in with the password %s until it is changed.\n", email, password)
	}
	return err
}
