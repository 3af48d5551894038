package pdf

import (
	"bytes"
	"image"
	"image/draw"
	"image/png"

	"github.com/boombuler/barcode"
	"github.com/boombuler/barcode/qr"
)

// Code draws what a payment code says, as a PNG, with error correction M as its
// guidelines ask for.
func Code(says string) ([]byte, error) {
	code, err := qr.Encode(says, qr.M, qr.Unicode)
	if err != nil {
		return nil, err
	}
	if code, err = barcode.Scale(code, 4*code.Bounds().Dx(), 4*code.Bounds().Dy()); err != nil {
		return nil, err
	}
	var out bytes.Buffer
	err = png.Encode(&out, gray8(code))
	return out.Bytes(), err
}

// gray8 is a picture in 8 bits of grey, which every reader of PDF knows.
func gray8(of image.Image) image.Image {
	g := image.NewGray(of.Bounds())
	draw.Draw(g, g.Bounds(), of, of.Bounds().Min, draw.Src)
	return g
}
