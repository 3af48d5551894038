package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"net/netip"
	"os"
	"path/filepath"
	"runtime/debug"
	"time"

	"cleantally/books"
	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/demo"
	"cleantally/formats/mail"
	"cleantally/standin"
	"cleantally/store"
	"cleantally/ui"
	"cleantally/web"

	"github.com/spf13/cobra"
)

const defaultAddress = "127.0.0.1:8420"

func serveCommand() *cobra.Command {
	var p place
	var addr string
	var proxies []string
	var standIns bool
	var backups string
	o := web.Options{Interface: ui.Files()}
	c := &cobra.Command{Use: "serve", Short: "Serve the books of a firm", Args: cobra.NoArgs, RunE: func(c *cobra.Command, _ []string) error {
		for _, text := range proxies {
			proxy, err := prefix(text)
			if err != nil {
				return fmt.Errorf("--trusted-proxy: %q is no address and no network", text)
			}
			o.Proxies = append(o.Proxies, proxy)
		}
		fixed, err := p.day()
		if err != nil {
			return err
		}
		open := opener(fixed, standIns, backups)
		return p.with(c.Context(), func(b *books.Book) error {
			if standIns {
				var err error
				if o.StandIns, err = standIn(c.Context(), p.dir, b.Today, unasked); err != nil {
					return err
				}
			}
			b.BackupsAt(backups)
			return serve(c.Context(), b, addr, p.dir, open, o, "")
		})
	}}
	p.flags(c, true)
	c.Flags().StringVar(&addr, "addr", defaultAddress, "the address to listen on")
	c.Flags().BoolVar(&o.Secure, "secure", false, "send cookies over HTTPS alone (behind a proxy that ends TLS)")
	c.Flags().StringVar(&backups, "backups", "", "where backups are kept (default: the directory backups beside the books; best is another disk)")
	c.Flags().BoolVar(&standIns, "stand-ins", false, "run what stands in for a mail server and a card gateway, to try things without them")
	c.Flags().StringArrayVar(&o.Hosts, "host", nil, "a name that it is asked by, besides addresses and localhost (may be given several times)")
	c.Flags().StringArrayVar(&proxies, "trusted-proxy", nil, "an address or network (10.0.0.0/8) of proxies that say in X-Forwarded-For where a request comes from (may be given several times)")
	return c
}

// prefix reads a network, or an address as one of its own.
func prefix(text string) (netip.Prefix, error) {
	if a, err := netip.ParseAddr(text); err == nil {
		return a.Prefix(a.BitLen())
	}
	return netip.ParsePrefix(text)
}

func demoCommand() *cobra.Command {
	var p place
	var addr string
	c := &cobra.Command{Use: "demo", Short: "Serve the demo firm", Args: cobra.NoArgs, RunE: func(c *cobra.Command, _ []string) error {
		if p.dir == "" {
			dir, err := os.MkdirTemp("", "cleantally-demo-")
			if err != nil {
				return err
			}
			defer os.RemoveAll(dir)
			p.dir = dir
		}
		if p.today == "" {
			p.today = string(demo.Today)
		}
		return p.with(c.Context(), func(b *books.Book) error {
			if err := tell(c.Context(), b); err != nil {
				return err
			}
			if err := tellSecond(c.Context(), p.dir, day.Day(p.today)); err != nil {
				return err
			}
			b.SetToday(day.Day(p.today))
			o := web.Options{Interface: ui.Files(), Demo: true}
			var err error
			if o.StandIns, err = standIn(c.Context(), p.dir, b.Today, func(at *standin.Bank) error { return demo.AtTheBank(c.Context(), b, at) }); err != nil {
				return err
			}
			return serve(c.Context(), b, addr, p.dir, opener(day.Day(p.today), true, ""), o, signIns())
		})
	}}
	p.flags(c, false)
	c.Flags().StringVar(&addr, "addr", defaultAddress, "the address to listen on")
	return c
}

// opener opens the books of further firms, each with stand-ins of its own where
// there are any, and its backups in a directory of their place.
func opener(fixed day.Day, standIns bool, backups string) web.Opener {
	return func(ctx context.Context, name, dir string) (*books.Book, web.StandIns, error) {
		b, err := books.Open(ctx, dir, time.Now, fixed)
		if err != nil {
			return nil, web.StandIns{}, err
		}
		if backups != "" {
			b.BackupsAt(filepath.Join(backups, name))
		}
		var s web.StandIns
		if standIns {
			s, err = standIn(ctx, dir, b.Today, unasked)
		}
		return b, s, err
	}
}

// unasked is for a bank that knows nothing at first.
func unasked(*standin.Bank) error { return nil }

// tellSecond tells the demo's second firm, where it is not there yet.
func tellSecond(ctx context.Context, dir string, today day.Day) error {
	at := web.FirmDir(dir, demo.SecondName)
	if _, err := os.Stat(at); err == nil {
		return nil
	}
	if err := os.MkdirAll(at, 0o700); err != nil {
		return err
	}
	b, err := books.Open(ctx, at, time.Now, today)
	if err != nil {
		return err
	}
	return errors.Join(demo.TellSecond(ctx, b), b.Close())
}

// signIns says who may sign in to the demo firm.
func signIns() string {
	text := "Sign in as\n"
	for n, p := range demo.People() {
		if n == 2 {
			text += "  (these two as well in the second firm, at " + web.FirmPath(demo.SecondName) + "/)\n"
		}
		text += fmt.Sprintf("  %-34s with the password %-24q (%s)\n", p.Email, p.Password, p.Role)
	}
	return text
}

// tell fills empty books with the demo firm.
func tell(ctx context.Context, b *books.Book) error {
	if _, err := b.Read(ctx).Firm(); err == nil {
		return nil
	}
	start := time.Now()
	if err := demo.Tell(ctx, b, func(done, of int) {
		if done%25 == 0 || done == of {
			fmt.Fprintf(os.Stderr, "\rTelling the demo firm's history: %d of %d", done, of)
		}
	}); err != nil {
		return err
	}
	fmt.Fprintf(os.Stderr, ", in %s\n", time.Since(start).Round(time.Millisecond))
	return nil
}

// mostMemory is within what Go keeps its memory, in bytes, where more than that
// is not in use; without it as much again would lie about unused. GOMEMLIMIT says
// otherwise.
const mostMemory = 92 << 20

func serve(ctx context.Context, b *books.Book, addr, dir string, open web.Opener, o web.Options, hint string) error {
	if os.Getenv("GOMEMLIMIT") == "" {
		debug.SetMemoryLimit(mostMemory)
	}
	l, err := net.Listen("tcp", addr)
	if err != nil {
		return fmt.Errorf("cannot listen on %s: %w", addr, err)
	}
	if o.SetupWord, err = setupWord(ctx, b, l.Addr()); err != nil {
		return err
	}
	if o.SetupWord != "" {
		hint += fmt.Sprintf("Whoever sets the firm up is asked for this word: %s\n", o.SetupWord)
	}
	fmt.Printf("Clean Tally is at http://%s\n", l.Addr())
	for _, further := range web.FurtherFirms(dir) {
		fmt.Printf("Another firm is at http://%s%s/\n", l.Addr(), web.FirmPath(filepath.Base(further)))
	}
	fmt.Print(hint)
	if os.Geteuid() == 0 && !o.Demo {
		fmt.Fprintln(os.Stderr, "It runs as root, who may do everything on this machine. Give it a user of its own.")
	}
	if o.StandIns.Mailbox != "" {
		fmt.Printf("What is mailed is read at %s\nThe card gateway is at %s\nThe bank is at %s\n", o.StandIns.Mailbox, o.StandIns.Cards.Address, o.StandIns.Bank.Address)
	}
	if o.Demo {
		if err := mailsFrom(ctx, b, l.Addr()); err != nil {
			return err
		}
	}
	firms := web.NewFirms(b, dir, open, o)
	if tcp, ok := l.Addr().(*net.TCPAddr); ok && !tcp.IP.IsLoopback() {
		firms.AsksWord()
	}
	return firms.Serve(ctx, l)
}

// standIn runs what stands in for services outside: a mailbox and a gateway that
// takes cards, which keep what they know below dir. They listen on this machine
// alone. Today is the business day; booked is what the bank knows at first.
func standIn(ctx context.Context, dir string, today func() day.Day, booked func(*standin.Bank) error) (web.StandIns, error) {
	box, err := standin.NewMailbox(filepath.Join(dir, "mailbox"))
	if err != nil {
		return web.StandIns{}, err
	}
	cards, err := standin.NewGateway(filepath.Join(dir, "gateway"))
	if err != nil {
		return web.StandIns{}, err
	}
	cards.Today = func() string { return string(today()) }
	account, err := standin.NewBank(filepath.Join(dir, "bank"), money.Currency{Code: "EUR", Places: 2})
	if err != nil {
		return web.StandIns{}, err
	}
	account.Today = today
	if err := booked(account); err != nil {
		return web.StandIns{}, err
	}
	var ways [4]net.Listener
	for n := range ways {
		if ways[n], err = net.Listen("tcp", "127.0.0.1:0"); err != nil {
			return web.StandIns{}, fmt.Errorf("what stands in for services outside cannot listen: %w", err)
		}
	}
	at := ways[0].Addr().(*net.TCPAddr)
	all := web.StandIns{Mail: mail.Server{Host: at.IP.String(), Port: at.Port, TLS: mail.Never}, Mailbox: "http://" + ways[1].Addr().String(), Cards: cards.At("http://" + ways[2].Addr().String()), Bank: account.At("http://" + ways[3].Addr().String())}
	go func() {
		if err := box.Take(ctx, ways[0]); err != nil {
			slog.Error("the mailbox takes no mail", "error", err)
		}
	}()
	for n, pages := range []http.Handler{box, cards, account} {
		server := &http.Server{Handler: pages, ReadHeaderTimeout: 10 * time.Second}
		go server.Serve(ways[n+1])
		go func() {
			<-ctx.Done()
			server.Close()
		}()
	}
	return all, nil
}

// mailsFrom has the demo's links lead to where it listens.
func mailsFrom(ctx context.Context, b *books.Book, at net.Addr) error {
	a, err := b.Read(ctx).MailAccount()
	pages := "http://" + at.String()
	if err != nil || a.Way != "stand-in" || a.PagesAt == pages {
		return err
	}
	a.PagesAt = pages
	return b.SaveMailAccount(ctx, 1, a, nil)
}

// setupWord is a word for whoever sets up a firm that others can reach: empty
// books must not be anybody's. It is "" where the program listens on this
// machine alone, and once there is a firm.
func setupWord(ctx context.Context, b *books.Book, at net.Addr) (string, error) {
	tcp, ok := at.(*net.TCPAddr)
	if ok && tcp.IP.IsLoopback() {
		return "", nil
	}
	if _, err := b.Read(ctx).Firm(); !errors.Is(err, store.ErrNoFirm) {
		return "", err
	}
	return web.NewWord(), nil
}

func openAPICommand() *cobra.Command {
	return &cobra.Command{Use: "openapi", Short: "Print the description of the API", Args: cobra.NoArgs, RunE: func(c *cobra.Command, _ []string) error {
		dir, err := os.MkdirTemp("", "cleantally-")
		if err != nil {
			return err
		}
		defer os.RemoveAll(dir)
		return (&place{dir: dir}).with(c.Context(), func(b *books.Book) error {
			text, err := web.New(b, web.Options{}).OpenAPI()
			fmt.Println(string(text))
			return err
		})
	}}
}
