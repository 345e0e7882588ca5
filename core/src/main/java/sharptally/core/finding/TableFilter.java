package sharptally.core.finding;

import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.match.TableMatch;
import sharptally.core.match.text.Glob;
import sharptally.core.match.text.Nearest;
import sharptally.core.shape.TableName;

/**
 * Which matches of a run are wanted, by names of matches or of their source or target tables, with wildcards and, where
 * there is a dot in a name, with the schema.
 *
 * @param wanted empty for all
 * @param leftOut those that are not wanted all the same
 * @param schemas of the source and the target, whose tables go by their bare names; empty where they are not known
 */
public record TableFilter(List<Glob> wanted, List<Glob> leftOut, List<String> schemas) {
    /** All matches. */
    public static final TableFilter ALL = new TableFilter(List.of(), List.of(), List.of());

    public TableFilter {
        wanted = List.copyOf(wanted);
        leftOut = List.copyOf(leftOut);
        schemas = List.copyOf(schemas);
    }

    /** Whether it wants all matches. */
    public boolean wantsAll() {
        return wanted.isEmpty() && leftOut.isEmpty();
    }

    /** Whether the match is wanted. */
    public boolean wants(TableMatch match) {
        return (wanted.isEmpty() || wanted.stream().anyMatch(g -> names(g, match)))
                && leftOut.stream().noneMatch(g -> names(g, match));
    }

    private boolean names(Glob glob, TableMatch match) {
        return Stream.concat(
                        Stream.of(match.name()),
                        Stream.concat(
                                called(match.source().name(), 0),
                                called(match.target().name(), 1)))
                .anyMatch(glob::matches);
    }

    private Stream<String> called(TableName table, int side) {
        Optional<String> schema =
                table.schema().or(() -> side < schemas.size() ? Optional.of(schemas.get(side)) : Optional.empty());
        return Stream.concat(Stream.of(table.name()), schema.map(s -> s + "." + table.name()).stream());
    }

    /**
     * @throws ToolException when there is no match of a name that is asked for, or none is left
     */
    public void check(List<TableMatch> matches) {
        List<String> names = matches.stream().map(TableMatch::name).toList();
        Stream.concat(wanted.stream(), leftOut.stream())
                .filter(g -> matches.stream().noneMatch(m -> names(g, m)))
                .findFirst()
                .ifPresent(g -> {
                    throw new ToolException(
                            ErrorKind.USAGE,
                            "no such table in this run",
                            g.text(),
                            Nearest.hint(g.text(), names, "there are: "));
                });
        if (!matches.isEmpty() && matches.stream().noneMatch(this::wants)) {
            throw new ToolException(
                    ErrorKind.USAGE,
                    "no table of this run is left",
                    leftOut.stream().map(Glob::text).collect(Collectors.joining(", ")),
                    "leave out fewer tables");
        }
    }
}
