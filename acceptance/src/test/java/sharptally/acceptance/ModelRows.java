package sharptally.acceptance;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;

/** Rows of a small table as a plain map, what is done to them, and what differs between two such maps. */
record ModelRows(Map<Integer, List<String>> byId) {
    static final List<String> COLUMNS = List.of("region", "millis", "remark");
    private static final ObjectMapper JSON = new ObjectMapper();

    static ModelRows random(Random random, int most, List<String> regions) {
        Map<Integer, List<String>> rows = new TreeMap<>();
        int number = random.nextInt(most + 1);
        while (rows.size() < number) {
            rows.put(random.nextInt(most * 3) - most / 2, row(random, regions));
        }
        return new ModelRows(rows);
    }

    private static List<String> row(Random random, List<String> regions) {
        return List.of(
                regions.get(random.nextInt(regions.size())),
                "" + (random.nextInt(20_000) - 5_000),
                random.nextInt(4) == 0 ? "gap" : "it's at rest " + random.nextInt(9));
    }

    /**
     * The same with some rows lost, changed and added.
     *
     * @param keeping whether a row's region stays what it is
     */
    ModelRows damaged(Random random, List<String> regions, boolean keeping) {
        Map<Integer, List<String>> rows = new TreeMap<>(byId);
        int times = random.nextInt(3) == 0 ? 0 : 1 + random.nextInt(12);
        for (int i = 0; i < times; i++) {
            List<Integer> ids = List.copyOf(rows.keySet());
            int fate = ids.isEmpty() ? 2 : random.nextInt(3);
            if (fate == 0) {
                rows.remove(ids.get(random.nextInt(ids.size())));
            } else if (fate == 1) {
                Integer id = ids.get(random.nextInt(ids.size()));
                List<String> row = new ArrayList<>(row(random, regions));
                if (keeping) {
                    row.set(0, rows.get(id).get(0));
                }
                rows.put(id, row);
            } else {
                rows.putIfAbsent(1_000_000 + random.nextInt(1_000), row(random, regions));
            }
        }
        return new ModelRows(rows);
    }

    /** Each finding as kind, id and the columns that differ. */
    Set<String> differences(ModelRows target, List<String> columns) {
        Set<String> all = new TreeSet<>();
        Set<Integer> ids = new TreeSet<>(byId.keySet());
        ids.addAll(target.byId.keySet());
        for (Integer id : ids) {
            List<String> one = byId.get(id);
            List<String> other = target.byId.get(id);
            if (one == null || other == null) {
                all.add((one == null ? "extra " : "missing ") + id);
                continue;
            }
            Set<String> differ = new TreeSet<>();
            for (String column : columns) {
                int i = COLUMNS.indexOf(column);
                if (!one.get(i).equals(other.get(i))) {
                    differ.add(column);
                }
            }
            if (!differ.isEmpty()) {
                all.add("changed " + id + " " + differ);
            }
        }
        return all;
    }

    /** The same of a run, as the program lists it. */
    static Set<String> found(Tool tool, String run) {
        Set<String> all = new TreeSet<>();
        for (String line :
                tool.run("show", run, "--limit", "0", "--format", "jsonl").lines()) {
            try {
                JsonNode finding = JSON.readTree(line);
                String kind = finding.get("kind").asText();
                Set<String> differ = new TreeSet<>();
                finding.path("differs")
                        .properties()
                        .forEach(f -> differ.add(f.getKey().toLowerCase(java.util.Locale.ROOT)));
                finding.get("key")
                        .elements()
                        .forEachRemaining(
                                id -> all.add(kind + " " + id.asText() + (kind.equals("changed") ? " " + differ : "")));
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        }
        return all;
    }

    /**
     * @param columns beside the key
     */
    void fill(Database database, String table, List<String> columns) throws Exception {
        List<String> statements = new ArrayList<>(List.of("CREATE TABLE " + table + " (id INTEGER PRIMARY KEY"
                + (columns.contains("region") ? ", region VARCHAR(8)" : "")
                + ", millis INTEGER, remark VARCHAR(40))"));
        List<Map.Entry<Integer, List<String>>> rows = List.copyOf(byId.entrySet());
        for (int from = 0; from < rows.size(); from += 200) {
            List<String> values = new ArrayList<>();
            for (var row : rows.subList(from, Math.min(rows.size(), from + 200))) {
                values.add("(" + row.getKey()
                        + (columns.contains("region") ? ", '" + row.getValue().get(0) + "'" : "") + ", "
                        + row.getValue().get(1) + ", '"
                        + row.getValue().get(2).replace("'", "''") + "')");
            }
            statements.add("INSERT INTO " + table + " VALUES " + String.join(", ", values));
        }
        database.execute(statements.toArray(String[]::new));
    }

    /** Rows of two maps that have none in common. */
    ModelRows with(ModelRows other) {
        Map<Integer, List<String>> all = new TreeMap<>(byId);
        all.putAll(other.byId);
        if (all.size() < new HashSet<>(byId.keySet()).size() + other.byId.size()) {
            throw new IllegalArgumentException("rows in common");
        }
        return new ModelRows(all);
    }

    ModelRows only(java.util.function.Predicate<Map.Entry<Integer, List<String>>> wanted) {
        Map<Integer, List<String>> some = new TreeMap<>();
        byId.entrySet().stream().filter(wanted).forEach(row -> some.put(row.getKey(), row.getValue()));
        return new ModelRows(some);
    }
}
