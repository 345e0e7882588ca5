package sharptally.engines.jdbc.sums;

import java.util.List;
import java.util.Optional;
import sharptally.core.place.SumsRequest.Hashed;

/** Of an engine that is not asked for checksums. */
record NoHashing(String why) implements Hashing {
    @Override
    public Optional<String> commonProblem(List<Hashed> columns) {
        return Optional.of(why);
    }

    @Override
    public Optional<String> ownForm() {
        return Optional.empty();
    }

    @Override
    public Optional<String> ownProblem(List<Hashed> columns) {
        return Optional.of(why);
    }

    @Override
    public String common(List<Hashed> columns) {
        throw new IllegalStateException(why);
    }

    @Override
    public String own(List<Hashed> columns) {
        throw new IllegalStateException(why);
    }

    @Override
    public String sum(String hash) {
        throw new IllegalStateException(why);
    }

    @Override
    public String fenced(String query) {
        throw new IllegalStateException(why);
    }

    @Override
    public String slice(String number, long step) {
        throw new IllegalStateException(why);
    }
}
