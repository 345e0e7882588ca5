package sharptally.cli.help;

import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;

/** Options as they are written in a command that is proposed. */
public final class Words {
    private final List<String> words = new ArrayList<>();

    /** One option whose values are joined by commas; none where there is no value. */
    public Words joined(String option, Collection<?> values) {
        if (!values.isEmpty()) {
            words.add(option);
            words.add(String.join(
                    ",", values.stream().map(String::valueOf).sorted().toList()));
        }
        return this;
    }

    /** The option once for each value. */
    public Words each(String option, Collection<?> values) {
        values.forEach(value -> words.addAll(List.of(option, value.toString())));
        return this;
    }

    public Words option(String option, Optional<?> value) {
        return each(option, value.stream().toList());
    }

    public Words flag(String option, boolean given) {
        if (given) {
            words.add(option);
        }
        return this;
    }

    public Words add(List<String> more) {
        words.addAll(more);
        return this;
    }

    public List<String> list() {
        return List.copyOf(words);
    }
}
