package sharptally.core.place.union;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.function.UnaryOperator;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import sharptally.core.fault.ErrorKind;
import sharptally.core.fault.ToolException;
import sharptally.core.place.Address;

/**
 * Which places make a union, as users write it: {@code union:by=region,north=@a,south=@b}.
 *
 * @param by the column that tells of each row from which of them it is; empty where none does
 * @param shards at least two
 */
public record UnionAddress(Optional<String> by, List<Shard> shards) {
    /** The word before the colon of its address. */
    public static final String ENGINE = "union";

    private static final Pattern NAMED = Pattern.compile("(\\w[\\w-]*)=(.+)");
    private static final String COMMA = "%2C";

    /**
     * One of the places.
     *
     * @param name by which its rows are told
     * @param address as the user wrote it
     */
    public record Shard(String name, String address) {}

    public UnionAddress {
        shards = List.copyOf(shards);
    }

    public static boolean isOne(Address address) {
        return address.engine().equals(ENGINE);
    }

    /** Whether the text is the address of a union. */
    public static boolean isOne(String address) {
        return address.startsWith(ENGINE + ":");
    }

    /**
     * @param parts addresses, each with a name before it or not
     * @param by the column that tells of each row from which of them it is
     */
    public static String written(List<String> parts, Optional<String> by) {
        return ENGINE + ":" + by.map(column -> "by=" + column + ",").orElse("")
                + parts.stream().map(part -> part.replace(",", COMMA)).collect(Collectors.joining(","));
    }

    /**
     * @throws ToolException when the address is no union's
     */
    public static UnionAddress of(Address address) {
        Optional<String> by = Optional.empty();
        List<Shard> shards = new ArrayList<>();
        for (String part : address.location().split(",", -1)) {
            Matcher named = NAMED.matcher(part);
            boolean hasName = named.matches();
            String text = (hasName ? named.group(2) : part).replace(COMMA, ",");
            if (hasName && named.group(1).equals("by")) {
                by = Optional.of(text);
            } else if (isOne(text) || text.contains("#")) {
                throw problem(
                        "a union is one of databases, none of tables or unions",
                        text,
                        "name the table behind all of them, as in union:@north,@south#reading");
            } else {
                Address.parse(text);
                shards.add(new Shard(hasName ? named.group(1) : nameOf(text), text));
            }
        }
        if (shards.size() < 2) {
            throw problem("a union takes two databases or more", address.toString(), "such as union:@north,@south");
        }
        if (new HashSet<>(shards.stream().map(Shard::name).toList()).size() < shards.size()) {
            throw problem(
                    "two parts of a union go by one name",
                    address.toString(),
                    "give each a name, as in union:north=@a,south=@b");
        }
        return new UnionAddress(by, shards);
    }

    /** The same of other addresses. */
    public UnionAddress each(UnaryOperator<String> address) {
        return new UnionAddress(
                by,
                shards.stream()
                        .map(shard -> new Shard(shard.name(), address.apply(shard.address())))
                        .toList());
    }

    private static String nameOf(String address) {
        return address.startsWith(Address.NAMED) ? address.substring(1).replaceFirst("\\?.*", "") : address;
    }

    private static ToolException problem(String what, String where, String mend) {
        return new ToolException(ErrorKind.USAGE, what, where, mend);
    }

    /** As users write it. */
    @Override
    public String toString() {
        return written(
                shards.stream()
                        .map(shard -> (shard.name().equals(nameOf(shard.address())) ? "" : shard.name() + "=")
                                + shard.address())
                        .toList(),
                by);
    }
}
