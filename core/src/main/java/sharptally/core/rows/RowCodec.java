package sharptally.core.rows;

import java.io.IOException;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import sharptally.core.types.Value;

/** Writes rows to, and reads them from, a file of our own that lives only as long as a sort. */
public final class RowCodec {
    private RowCodec() {}

    static void write(List<Column> columns, int row, RowBytes out) {
        for (Column column : columns) {
            byte tag = column.tags[row];
            out.writeByte(tag);
            if (Tag.isSlice(tag)) {
                out.writeInt(column.second[row]);
                out.write(column.arena, (int) column.payload[row], column.second[row]);
            } else if (tag == Tag.BIG) {
                BigDecimal number = column.decimal(row);
                byte[] unscaled = number.unscaledValue().toByteArray();
                out.writeInt(number.scale());
                out.writeInt(unscaled.length);
                out.write(unscaled, 0, unscaled.length);
            } else if (tag == Tag.OTHER) {
                Value.Other other = (Value.Other) column.object(row);
                byte[] type = other.type().getBytes(StandardCharsets.UTF_8);
                out.writeInt(type.length);
                out.write(type, 0, type.length);
                byte[] text = other.text().getBytes(StandardCharsets.UTF_8);
                out.writeInt(text.length);
                out.write(text, 0, text.length);
            } else if (tag != Tag.NULL) {
                out.writeLong(column.payload[row]);
                out.writeInt(column.second[row]);
            }
        }
    }

    /** Appends one row to each of the columns. */
    public static void read(RowIn in, List<Column> columns) throws IOException {
        for (Column column : columns) {
            byte tag = in.readByte();
            if (Tag.isSlice(tag)) {
                in.addSlice(column, tag, in.readInt());
            } else if (tag == Tag.BIG) {
                int scale = in.readInt();
                column.addDecimal(new BigDecimal(new BigInteger(in.readBytes(in.readInt())), scale));
            } else if (tag == Tag.OTHER) {
                String type = new String(in.readBytes(in.readInt()), StandardCharsets.UTF_8);
                byte[] text = in.readBytes(in.readInt());
                column.add(new Value.Other(type, new String(text, StandardCharsets.UTF_8)));
            } else if (tag == Tag.NULL) {
                column.addNull();
            } else {
                column.addPlain(tag, in.readLong(), in.readInt());
            }
        }
    }

    /** As many empty columns as given. */
    public static List<Column> emptyColumns(int count, int expectedRows) {
        List<Column> columns = new ArrayList<>(count);
        for (int i = 0; i < count; i++) {
            columns.add(new Column(expectedRows));
        }
        return columns;
    }
}
