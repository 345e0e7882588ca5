package sharptally.core.rows;

import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.util.ArrayList;
import java.util.List;
import sharptally.core.types.Value;

/** Writes rows to, and reads them from, a file of our own that lives only as long as a sort. */
public final class RowCodec {
    private RowCodec() {}

    public static void write(List<Column> columns, int row, DataOutputStream out) throws IOException {
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
                out.write(unscaled);
            } else if (tag == Tag.OTHER) {
                Value.Other other = (Value.Other) column.object(row);
                out.writeUTF(other.type());
                byte[] text = other.text().getBytes(java.nio.charset.StandardCharsets.UTF_8);
                out.writeInt(text.length);
                out.write(text);
            } else if (tag != Tag.NULL) {
                out.writeLong(column.payload[row]);
                out.writeInt(column.second[row]);
            }
        }
    }

    /** Appends one row to each of the columns. */
    public static void read(DataInputStream in, List<Column> columns) throws IOException {
        for (Column column : columns) {
            byte tag = in.readByte();
            if (Tag.isSlice(tag)) {
                byte[] bytes = in.readNBytes(in.readInt());
                column.addSlice(tag, bytes, 0, bytes.length);
            } else if (tag == Tag.BIG) {
                int scale = in.readInt();
                column.addDecimal(new BigDecimal(new BigInteger(in.readNBytes(in.readInt())), scale));
            } else if (tag == Tag.OTHER) {
                String type = in.readUTF();
                byte[] text = in.readNBytes(in.readInt());
                column.add(new Value.Other(type, new String(text, java.nio.charset.StandardCharsets.UTF_8)));
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
