// Package httpd speaks HTTP: the interface of api/openapi.yaml, sessions, previews and the built interface.
package httpd

//go:generate go tool oapi-codegen -config server.yaml ../../api/openapi.yaml
