package main

import (
	"bytes"
	"encoding/json"
	"errors"
	"io"
	"os"

	"mendry/internal/core/picture"
)

// pictureLook tells what a picture is. One that is refused is told as JSON too, with the reason.
func pictureLook(args []string, _ io.Reader, out io.Writer) error {
	if len(args) != 1 {
		return fail(refused, "usage: mendry picture look FILE")
	}
	b, err := readPicture(args[0])
	if err != nil {
		return err
	}
	told := struct {
		picture.Info
		Refused string `json:"refused"`
	}{}
	if told.Info, err = picture.Check(b); err != nil {
		told.Info, told.Refused = picture.Info{Size: len(b)}, err.Error()
	}
	if e := writeJSON(out, told); e != nil || err == nil {
		return e
	}
	return fail(refused, "%s: %v", args[0], err)
}

// pictureWork does work on a picture and writes it to standard output.
func pictureWork(args []string, _ io.Reader, out io.Writer) error {
	if len(args) != 2 {
		return fail(refused, "usage: mendry picture work FILE WORK.json")
	}
	b, err := readPicture(args[0])
	if err != nil {
		return err
	}
	asked, err := os.ReadFile(args[1])
	if err != nil {
		return fail(refused, "%v", err)
	}
	var w picture.Work
	d := json.NewDecoder(bytes.NewReader(asked))
	d.DisallowUnknownFields()
	if err := d.Decode(&w); err != nil && !errors.Is(err, io.EOF) {
		return fail(refused, "%s: %v", args[1], err)
	}
	made, err := picture.Do(b, w)
	if err != nil {
		return fail(refused, "%s: %v", args[0], err)
	}
	_, err = out.Write(made.Bytes)
	return err
}

// readPicture reads a file no further than a picture may be large.
func readPicture(file string) ([]byte, error) {
	f, err := os.Open(file)
	if err != nil {
		return nil, fail(refused, "%v", err)
	}
	defer f.Close()
	b, err := io.ReadAll(io.LimitReader(f, picture.MaxBytes+1))
	if err != nil {
		return nil, fail(refused, "%v", err)
	}
	return b, nil
}
