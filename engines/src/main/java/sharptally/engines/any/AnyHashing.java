package sharptally.engines.any;

import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import sharptally.core.place.part.Obstacle;
import sharptally.core.place.part.SumsRequest.Hashed;
import sharptally.core.place.profile.Profile;
import sharptally.core.types.CanonicalType;
import sharptally.core.types.Kind;
import sharptally.engines.jdbc.sums.CommonForm;
import sharptally.engines.jdbc.sums.Hashing;

/** Checksums in the common form, in the words of a profile. */
record AnyHashing(Profile profile, Profile.Checksums how) implements Hashing {
    @Override
    public Optional<Obstacle> commonProblem(List<Hashed> columns) {
        return CommonForm.problem(columns, c -> field(c).isPresent());
    }

    @Override
    public String common(List<Hashed> columns) {
        String record = columns.stream()
                .map(c -> field(c).map(f -> Profile.filled(how.field(), "field", f))
                        .orElseThrow())
                .collect(Collectors.joining(how.between()));
        return Profile.filled(how.hash(), "record", record);
    }

    /** A time is written with all its digits, so that there is none where fewer are compared. */
    private Optional<String> field(Hashed hashed) {
        CanonicalType type = hashed.column().type().orElseThrow();
        boolean asItIs = switch (type.kind()) {
            case DATE -> hashed.comparedAs() == Kind.DATE;
            case TIME, TIMESTAMP, INSTANT -> hashed.digits() >= type.digits();
            default -> true;
        };
        return profile.of(type)
                .hashed()
                .filter(f -> asItIs)
                .map(form -> Profile.filled(
                        form, "column", profile.quoted(hashed.column().name())));
    }

    @Override
    public String masked(String hash, long shares) {
        return Profile.filled(
                how.masked(), "hash", hash, "shares", Long.toString(shares), "mask", Long.toString(shares - 1));
    }

    @Override
    public String sum(String hash) {
        return Profile.filled(how.sum(), "hash", hash);
    }

    @Override
    public String slice(String number, long step) {
        return Profile.filled(how.slice(), "number", number, "step", Long.toString(step));
    }
}
