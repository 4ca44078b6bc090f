package picture

// usualTable is the sum of the table by which luminance is quantised at quality 50 (ITU-T T.81, table K.1; common
// programs scale it by their quality).
const usualTable = 3688

// qualityOf is the quality at which a JPEG was written, from 1 to 100, as far as its table of luminance tells; 0 where
// it has none.
func qualityOf(b []byte) int {
	for _, s := range segments(b) {
		if s.marker != 0xdb {
			continue
		}
		for d := s.data; len(d) > 0; { // T.81, B.2.4.1
			wide, id := 1+int(d[0]>>4), d[0]&15
			n := 64 * wide
			if wide > 2 || len(d) < 1+n {
				return 0
			}
			if id == 0 {
				return ofTable(d[1:1+n], wide)
			}
			d = d[1+n:]
		}
	}
	return 0
}

func ofTable(table []byte, wide int) int {
	sum := 0
	for i := 0; i < len(table); i += wide {
		if wide == 2 {
			sum += int(table[i]) << 8
		}
		sum += int(table[i+wide-1])
	}
	scale := 100 * float64(sum) / usualTable
	if scale < 100 {
		return min(int(100-scale/2+0.5), 100)
	}
	return max(int(5000/scale+0.5), 1)
}
