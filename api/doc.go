// Package api holds the types of the interface between the two halves of Mendry, generated from openapi.yaml.
package api

//go:generate go tool oapi-codegen -config models.yaml openapi.yaml
