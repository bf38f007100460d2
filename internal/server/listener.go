package server

import (
	"errors"
	"net"
	"sync"
	"time"
)

// mostConnections is as many as are open at once: a shop's devices have a few each. It leaves descriptors for the data file and for copies.
const mostConnections = 600

// Steady makes a listener that outlives a lack of descriptors: it waits until one is free, where the bare one would end the server. It
// holds no more connections than a shop has; whoever comes above that is let go at once, so that nobody waits behind a stranger's.
func Steady(l net.Listener) net.Listener {
	return &steady{Listener: l, free: make(chan struct{}, mostConnections), gone: make(chan struct{})}
}

type steady struct {
	net.Listener
	free chan struct{}
	gone chan struct{}
	once sync.Once
}

// again is how long it waits where there is no descriptor.
const again = 50 * time.Millisecond

func (s *steady) Accept() (net.Conn, error) {
	for {
		conn, err := s.Listener.Accept()
		if errors.Is(err, net.ErrClosed) {
			return nil, err
		}
		if err != nil {
			select {
			case <-s.gone:
				return nil, net.ErrClosed
			case <-time.After(again):
			}
			continue
		}
		select {
		case s.free <- struct{}{}:
			return &counted{Conn: conn, done: func() { <-s.free }}, nil
		default:
			_ = conn.Close()
		}
	}
}

func (s *steady) Close() error {
	s.once.Do(func() { close(s.gone) })
	return s.Listener.Close()
}

type counted struct {
	net.Conn
	done func()
	once sync.Once
}

func (c *counted) Close() error {
	defer c.once.Do(c.done)
	return c.Conn.Close()
}
