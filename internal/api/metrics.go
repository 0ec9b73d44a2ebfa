package api

import (
	"context"
	"net/http"
	"strconv"
	"time"

	"github.com/go-chi/chi/v5"
	"github.com/go-chi/chi/v5/middleware"
	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/collectors"
)

// metrics are what a server counts of itself. Names follow Prometheus's conventions:
// base units, _total for what only grows.
type metrics struct {
	requests   *prometheus.HistogramVec
	judgements *prometheus.HistogramVec
	signIns    *prometheus.CounterVec
}

// newMetrics makes the metrics of a server, and registers them where a registry is given.
func (s *server) newMetrics(r prometheus.Registerer) *metrics {
	m := &metrics{
		requests: prometheus.NewHistogramVec(
			prometheus.HistogramOpts{Name: "grapnel_request_seconds", Help: "Time to answer a request, by operation and status.",
				Buckets: []float64{.002, .005, .01, .02, .05, .1, .2, .5, 1, 2, 5}},
			[]string{"method", "route", "status"},
		),
		judgements: prometheus.NewHistogramVec(
			prometheus.HistogramOpts{
				Name:    "grapnel_judgement_seconds",
				Help:    "Time to judge a job that was not judged since it changed, for its sheet or at a glance.",
				Buckets: []float64{.0001, .0005, .001, .002, .005, .01, .02, .05, .1, .5, 1},
			},
			[]string{"for"},
		),
		signIns: prometheus.NewCounterVec(
			prometheus.CounterOpts{Name: "grapnel_sign_ins_total", Help: "Sign-ins, by how they ended."},
			[]string{"end"},
		),
	}
	if r == nil {
		return m
	}
	r.MustRegister(
		m.requests,
		m.judgements,
		m.signIns,
		collectors.NewGoCollector(),
		collectors.NewProcessCollector(collectors.ProcessCollectorOpts{}),
		collectors.NewDBStatsCollector(s.Store.DB(), "grapnel"),
		prometheus.NewGaugeFunc(
			prometheus.GaugeOpts{Name: "grapnel_streams", Help: "Devices that listen for changes."},
			func() float64 { return float64(s.live.open()) },
		),
		prometheus.NewGaugeFunc(
			prometheus.GaugeOpts{
				Name: "grapnel_sessions",
				Help: "Sessions that run, of all servers on the database; -1 when it does not answer.",
			},
			func() float64 {
				ctx, cancel := context.WithTimeout(context.Background(), time.Second)
				defer cancel()
				n, err := s.Store.CountSessions(ctx, s.Now())
				if err != nil {
					return -1
				}
				return float64(n)
			},
		),
	)
	return m
}

// counted times requests by operation: addresses with ids in them count as one.
func (s *server) counted(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		start := time.Now()
		ww := middleware.NewWrapResponseWriter(w, r.ProtoMajor)
		next.ServeHTTP(ww, r)
		route := "other"
		if c := chi.RouteContext(r.Context()); c != nil && c.RoutePattern() != "" {
			route = c.RoutePattern()
		}
		if route == "/api/events" {
			return // a stream's length is no answer's time
		}
		method := r.Method
		switch method {
		case http.MethodGet, http.MethodPost, http.MethodPut, http.MethodDelete:
		default:
			method = "other" // anybody may make one up
		}
		s.metrics.requests.WithLabelValues(method, route, strconv.Itoa(ww.Status())).Observe(time.Since(start).Seconds())
	})
}
