package sharptally.engines.files.dump;

import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.stream.IntStream;
import sharptally.core.rows.RowSource;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.TableName;
import sharptally.core.shape.TableShape;
import sharptally.engines.files.kept.Kept;
import sharptally.engines.files.kept.KeptRows;

/** A large dump that is gone through once: what it holds is kept, and the rows of each table from the first time they are read. */
record KeptDump(Dump dump, Optional<Kept> kept) {
    private static final String CONTENTS = "contents";

    /**
     * @param said for whose database scripts are meant
     * @param kept where; empty for dumps of which nothing is kept
     */
    static KeptDump of(DumpText text, Optional<Flavour> said, Optional<Kept> kept) {
        Optional<Dump> known = kept.flatMap(k -> k.get(CONTENTS, in -> read(in, text)));
        Dump dump = known.orElseGet(() -> Dump.of(text, said));
        kept.ifPresent(k -> {
            k.used(Instant.now());
            if (known.isEmpty()) {
                try {
                    k.put(CONTENTS, out -> write(dump, out));
                } catch (IOException e) {
                    // the next time it is gone through again
                }
            }
        });
        return new KeptDump(dump, kept);
    }

    private static void write(Dump dump, DataOutputStream out) throws IOException {
        out.writeUTF(dump.flavour().name());
        out.writeBoolean(dump.written());
        out.writeInt(dump.words().size());
        for (String words : dump.words()) {
            byte[] text = words.getBytes(StandardCharsets.UTF_8);
            out.writeInt(text.length);
            out.write(text);
        }
        out.writeInt(dump.rows().size());
        for (Map.Entry<TableName, Dump.Span> rows : dump.rows().entrySet()) {
            out.writeUTF(rows.getKey().schema().orElse(""));
            out.writeUTF(rows.getKey().name());
            write(rows.getValue().first(), out);
            write(rows.getValue().last(), out);
        }
    }

    private static void write(DumpBytes.Place place, DataOutputStream out) throws IOException {
        out.writeInt(place.part());
        out.writeLong(place.offset());
        out.writeLong(place.line());
    }

    private static Dump read(DataInputStream in, DumpText text) throws IOException {
        Flavour flavour = Flavour.valueOf(in.readUTF());
        boolean written = in.readBoolean();
        List<String> words = new ArrayList<>();
        for (int left = in.readInt(); left > 0; left--) {
            words.add(new String(in.readNBytes(in.readInt()), StandardCharsets.UTF_8));
        }
        Map<TableName, Dump.Span> rows = new LinkedHashMap<>();
        for (int left = in.readInt(); left > 0; left--) {
            String schema = in.readUTF();
            String name = in.readUTF();
            rows.put(
                    schema.isEmpty() ? TableName.of(name) : TableName.of(schema, name),
                    new Dump.Span(place(in), place(in)));
        }
        return Dump.of(text, flavour, written, words, rows);
    }

    private static DumpBytes.Place place(DataInputStream in) throws IOException {
        return new DumpBytes.Place(in.readInt(), in.readLong(), in.readLong());
    }

    private Optional<KeptRows> rows(TableShape table) {
        int number = List.copyOf(dump.tables().shapes().keySet()).indexOf(table.name());
        return kept.map(k -> new KeptRows(k, "table-" + number));
    }

    /** How many rows a table has, where they were read before. */
    OptionalLong count(TableShape table) {
        return rows(table).map(KeptRows::count).orElse(OptionalLong.empty());
    }

    /** See {@code RowFiles.read}. */
    RowSource read(TableShape table, List<String> wanted, boolean positions, long skip, OptionalLong limit) {
        Optional<KeptRows> keeping = rows(table);
        List<String> all = table.columns().stream().map(ColumnShape::name).toList();
        boolean whole = skip == 0 && limit.isEmpty();
        if (keeping.isEmpty() || keeping.get().count().isEmpty() && !whole) {
            return new DumpRows(dump, table, wanted, positions, skip, limit);
        }
        // What tells where a row stands is kept behind its values.
        int[] places = IntStream.concat(
                        wanted.stream().mapToInt(all::indexOf),
                        IntStream.of(all.size()).limit(positions ? 1 : 0))
                .toArray();
        if (keeping.get().count().isEmpty()) {
            return keeping.get().keeping(new DumpRows(dump, table, all, true, 0, limit), places);
        }
        dump.text().check();
        return keeping.get().read(all.size() + 1, places, skip, limit);
    }
}
