package sharptally.core.script;

import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.UUID;
import java.util.function.BiPredicate;
import java.util.stream.Collectors;
import sharptally.core.match.ShapeDifferences;
import sharptally.core.match.TableMatch;
import sharptally.core.script.Change.Field;
import sharptally.core.shape.ColumnShape;
import sharptally.core.shape.KeyShape;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;

/**
 * Values of unique columns that one row holds and another one is to get before the first has let go of them, such as two
 * rows that exchange theirs. No order of single changes can carry that out; so the row that holds such a value has it set
 * aside first: to NULL where that may be, else to a value that no row is likely to have. If one has it after all, the
 * database refuses, and nothing is done.
 *
 * <p>Of a changed row it is not known what its unchanged columns hold. So where columns are unique together, rows are set
 * aside as soon as another one might get what they hold. Memory: what rows are to get in unique columns.
 */
final class Parking {
    private static final long FIRST_NUMBER = -2_000_000_000L;
    private static final LocalDateTime FIRST_TIME = LocalDateTime.of(1971, 1, 1, 0, 0);

    private final List<Unique> keys;
    private final Set<String> references;
    private final boolean insertsFirst;
    private final boolean deletesLast;
    private long parked;

    /** Columns that the target holds unique together, and what rows are to get in them. */
    private static final class Unique {
        final List<ColumnShape> columns;
        /** Whether a change of the row tells all of what it holds, or gets. */
        final boolean alone;

        final Set<List<Value>> byUpdates = new HashSet<>();
        final Set<List<Value>> byInserts = new HashSet<>();
        long updates;

        Unique(List<ColumnShape> columns, boolean alone) {
            this.columns = columns;
            this.alone = alone;
        }

        boolean isIn(List<Field> fields) {
            return fields.stream().anyMatch(f -> columns.contains(f.column()));
        }

        /** Empty where one is NULL, as such rows are never the same. */
        Optional<List<Value>> values(List<Field> fields) {
            List<Value> values = columns.stream()
                    .flatMap(c ->
                            fields.stream().filter(f -> f.column().equals(c)).limit(1))
                    .map(Field::value)
                    .filter(v -> !(v instanceof Value.Null))
                    .toList();
            return values.size() == columns.size() ? Optional.of(values) : Optional.empty();
        }
    }

    /** A change in two steps: what sets values aside, before all others, and what is left to do. */
    record Steps(Optional<Change> aside, Change then) {}

    private Parking(List<Unique> keys, Set<String> references, boolean insertsFirst, boolean deletesLast) {
        this.keys = keys;
        this.references = references;
        this.insertsFirst = insertsFirst;
        this.deletesLast = deletesLast;
    }

    /**
     * For what the target holds unique, outside the key of the match.
     *
     * @param insertsFirst whether rows are inserted before others are updated
     * @param deletesLast whether rows are deleted after others are updated and inserted
     */
    static Parking of(TableMatch match, boolean insertsFirst, boolean deletesLast) {
        List<String> keyNames =
                match.keyPairs().stream().map(p -> p.target().name()).toList();
        List<Unique> keys = match.target().keys().stream()
                .map(KeyShape::columns)
                .filter(names -> !keyNames.containsAll(names))
                .map(names -> new Unique(
                        names.stream()
                                .flatMap(name -> match.target().column(name).stream())
                                .toList(),
                        names.size() == 1))
                .toList();
        Set<String> references = match.target().foreignKeys().stream()
                .flatMap(f -> f.columns().stream())
                .collect(Collectors.toSet());
        return new Parking(match.wholeRow() ? List.of() : keys, references, insertsFirst, deletesLast);
    }

    /** Whether nothing is ever set aside. */
    boolean isNever() {
        return keys.isEmpty();
    }

    /** Takes note of what a row is to get. */
    void note(Change change) {
        for (Unique key : keys) {
            if (change instanceof Change.Update update && key.isIn(update.after())) {
                key.updates++;
                if (key.alone) {
                    key.values(update.after()).ifPresent(key.byUpdates::add);
                }
            } else if (change instanceof Change.Insert insert && (insertsFirst || deletesLast)) {
                key.values(insert.row()).ifPresent(key.byInserts::add);
            }
        }
    }

    /** The steps of a change. To be asked for all changes of the match, always in the same order. */
    Steps steps(Change change) {
        if (change instanceof Change.Update update) {
            List<Field> aside = aside(update.before(), this::isWantedOfUpdated);
            return aside.isEmpty()
                    ? new Steps(Optional.empty(), change)
                    : new Steps(
                            // From then on nobody else can change the row until the end of the transaction.
                            Optional.of(new Change.Update(
                                    update.key(),
                                    held(update.before(), aside),
                                    aside,
                                    update.others(),
                                    update.lookedAt())),
                            new Change.Update(update.key(), replaced(update.before(), aside), update.after()));
        }
        if (deletesLast && change instanceof Change.Delete delete && !delete.oneOfMany() && delete.keyColumns() > 0) {
            List<Field> key = delete.row().subList(0, delete.keyColumns());
            List<Field> aside = aside(delete.row(), this::isWantedOfDeleted);
            return aside.isEmpty()
                    ? new Steps(Optional.empty(), change)
                    : new Steps(
                            Optional.of(new Change.Update(key, held(delete.row(), aside), aside)),
                            new Change.Delete(replaced(delete.row(), aside), delete.keyColumns(), false));
        }
        return new Steps(Optional.empty(), change);
    }

    private boolean isWantedOfUpdated(Unique key, List<Field> held) {
        if (key.alone) {
            return key.values(held)
                    .filter(v -> key.byUpdates.contains(v) || insertsFirst && key.byInserts.contains(v))
                    .isPresent();
        }
        return key.isIn(held) && (key.updates > 1 || insertsFirst && !key.byInserts.isEmpty());
    }

    private boolean isWantedOfDeleted(Unique key, List<Field> held) {
        return key.values(held)
                .filter(v -> key.byInserts.contains(v) || key.byUpdates.contains(v) || !key.alone && key.updates > 0)
                .isPresent();
    }

    /** What is held instead, of one column for each key that another row wants. */
    private List<Field> aside(List<Field> held, BiPredicate<Unique, List<Field>> isWanted) {
        List<Field> aside = new ArrayList<>();
        for (Unique key : keys) {
            if (isWanted.test(key, held) && !key.isIn(aside)) {
                held.stream()
                        .filter(f -> key.columns.contains(f.column()) && !(f.value() instanceof Value.Null))
                        .flatMap(f -> instead(f).stream().map(v -> new Field(f.column(), v)))
                        .findFirst()
                        .ifPresent(aside::add);
            }
        }
        return aside;
    }

    private static List<Field> held(List<Field> row, List<Field> aside) {
        return aside.stream()
                .map(a -> row.stream()
                        .filter(f -> f.column().equals(a.column()))
                        .findFirst()
                        .orElseThrow())
                .toList();
    }

    private static List<Field> replaced(List<Field> row, List<Field> aside) {
        return row.stream()
                .map(f -> aside.stream()
                        .filter(a -> a.column().equals(f.column()))
                        .findFirst()
                        .orElse(f))
                .toList();
    }

    private Optional<Value> instead(Field held) {
        if (!held.column().writable()
                || references.contains(held.column().name()) && !held.column().nullable()) {
            return Optional.empty();
        }
        if (held.column().nullable()) {
            return Optional.of(Value.NULL);
        }
        Kind kind = held.column().type().orElseThrow().kind();
        if (kind == Kind.INTEGER || kind == Kind.DECIMAL) {
            return Optional.of(new Value.Int(number(held.column())));
        }
        if (kind == Kind.UUID) {
            return Optional.of(new Value.Uuid(new UUID(0, parked++)));
        }
        if (kind == Kind.TIMESTAMP) {
            return Optional.of(new Value.Timestamp(FIRST_TIME.plusSeconds(parked++)));
        }
        if (kind == Kind.INSTANT) {
            return Optional.of(
                    new Value.Instant(FIRST_TIME.plusSeconds(parked++).toInstant(ZoneOffset.UTC)));
        }
        if (kind == Kind.DATE) {
            return Optional.of(new Value.Date(FIRST_TIME.toLocalDate().plusDays(parked++)));
        }
        String text = "~" + parked;
        OptionalLong most = ShapeDifferences.length(held.column());
        if (kind == Kind.TEXT && (most.isEmpty() || text.length() <= most.getAsLong())) {
            parked++;
            return Optional.of(new Value.Text(text));
        }
        return Optional.empty();
    }

    /** A number that the column can hold and that is hardly in use. */
    private long number(ColumnShape column) {
        String type = column.declaredType().toLowerCase(Locale.ROOT);
        boolean unsigned = type.contains("unsigned") || type.matches("u\\w*int");
        if (type.contains("tinyint")) {
            return unsigned ? 255 - parked++ : -128 + parked++;
        } else if (type.contains("smallint") || type.equals("int2")) {
            return unsigned ? 65_535 - parked++ : -32_000 + parked++;
        } else if (type.contains("mediumint")) {
            return unsigned ? 16_777_215 - parked++ : -8_000_000 + parked++;
        }
        return unsigned ? 4_000_000_000L - parked++ : FIRST_NUMBER + parked++;
    }
}
