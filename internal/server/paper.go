package server

import (
	"context"
	"net/http"
	"strconv"

	"github.com/danielgtaylor/huma/v2"

	"braxel/internal/core/log"
	"braxel/internal/core/paper"
	"braxel/internal/plain"
)

// PaperPage is what the grid of old tests begins with: the engine's cylinders as its columns, and the tests on record as rows.
type PaperPage struct {
	Name      string        `json:"name"`
	MeterUnit string        `json:"meter_unit,omitzero"`
	Cylinders []PaperColumn `json:"cylinders"`
	Rows      []paper.Row   `json:"rows"`
}

// PaperColumn is a cylinder as the head of a column.
type PaperColumn struct {
	Cylinder int    `json:"cylinder"`
	Name     string `json:"name,omitzero"`
}

func (h *handlers) paperRoutes(api huma.API) {
	const path = "/api/engines/{engine}/paper"
	huma.Register(api, huma.Operation{OperationID: "paper", Method: http.MethodGet, Path: path}, h.paper)
	huma.Register(api, huma.Operation{OperationID: "read-paper", Method: http.MethodPost, Path: path}, h.readPaper)
}

func (h *handlers) paper(ctx context.Context, in *EngineIn) (*answer[PaperPage], error) {
	l, _, err := h.read(ctx, in.ID)
	if err != nil {
		return nil, refuse(err)
	}
	rows, err := paper.Of(l)
	if err != nil {
		return nil, refuse(log.Faults{{What: plain.Words(err)}})
	}
	page := PaperPage{Name: l.Engine.Name, MeterUnit: l.Engine.MeterUnit, Cylinders: []PaperColumn{}, Rows: rows}
	for _, c := range l.Engine.Cylinders() {
		page.Cylinders = append(page.Cylinders, PaperColumn{c, l.Engine.Layout.Names[strconv.Itoa(c)]})
	}
	return &answer[PaperPage]{page}, nil
}

// readPaper says what a grid comes to; what is to be put on record of it is handed in as entries.
func (h *handlers) readPaper(ctx context.Context, in *struct {
	EngineIn
	Body struct {
		Rows []paper.Row `json:"rows" maxItems:"1000"`
	}
}) (*answer[paper.Result], error) {
	l, shop, err := h.read(ctx, in.ID)
	if err != nil {
		return nil, refuse(err)
	}
	out, err := paper.Read(l, in.Body.Rows, shop)
	if err != nil {
		return nil, refuse(log.Faults{{What: plain.Words(err)}})
	}
	return &answer[paper.Result]{out}, nil
}
