package sharptally.report.findings;

import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.SecureRandom;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;
import sharptally.core.finding.Difference;
import sharptally.core.finding.Finding;
import sharptally.core.types.Value;
import sharptally.report.findings.ColumnCauses.Cause;
import sharptally.report.text.Figures;

/**
 * Hides values: of each, only its length is told, and a mark that is the same for equal values of one output. The mark is
 * keyed with a number that is kept nowhere, so that values can't be found out by trying. What a reader of a run gets to
 * see goes through here first, so that no form of it has to think of hiding. Used by one thread.
 */
public final class Redaction {
    private static final int KEY_BYTES = 32;
    private static final int MARK_BYTES = 4;

    private final Optional<Mac> mac;

    private Redaction(Optional<Mac> mac) {
        this.mac = mac;
    }

    /** Hides nothing. */
    public static Redaction none() {
        return new Redaction(Optional.empty());
    }

    public static Redaction hiding() {
        byte[] key = new byte[KEY_BYTES];
        new SecureRandom().nextBytes(key);
        try {
            Mac mac = Mac.getInstance("HmacSHA256");
            mac.init(new SecretKeySpec(key, "HmacSHA256"));
            return new Redaction(Optional.of(mac));
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException("every Java has HMAC-SHA256", e);
        }
    }

    public boolean isHiding() {
        return mac.isPresent();
    }

    /** The text, or what may be told of it. */
    public String of(String text) {
        if (isHiding() && text.isEmpty()) {
            return "(empty)";
        }
        return mac.map(m -> "(" + Figures.count(text.codePointCount(0, text.length()), "letter") + ") #"
                        + HexFormat.of()
                                .formatHex(Arrays.copyOf(m.doFinal(text.getBytes(StandardCharsets.UTF_8)), MARK_BYTES)))
                .orElse(text);
    }

    /** The text as it is shown to people, without the quotes round it; the word NULL is told. */
    String ofShown(String text) {
        if (!isHiding() || text.equals("NULL")) {
            return text;
        }
        boolean quoted = text.length() >= 2 && text.startsWith("'") && text.endsWith("'");
        return of(quoted ? text.substring(1, text.length() - 1) : text);
    }

    private Value of(Value value) {
        return value instanceof Value.Null ? value : new Value.Text(of(value.toString()));
    }

    List<Value> of(List<Value> values) {
        return isHiding() ? values.stream().map(this::of).toList() : values;
    }

    /** The finding with every value but NULL hidden, those of its key too. */
    public Finding of(Finding finding) {
        if (!isHiding()) {
            return finding;
        }
        if (finding instanceof Finding.Missing missing) {
            return new Finding.Missing(
                    of(missing.key()),
                    of(missing.row()),
                    missing.times(),
                    missing.among(),
                    missing.both(),
                    missing.position());
        } else if (finding instanceof Finding.Extra extra) {
            return new Finding.Extra(
                    of(extra.key()), of(extra.row()), extra.times(), extra.among(), extra.both(), extra.position());
        } else if (finding instanceof Finding.Changed changed) {
            return new Finding.Changed(
                    of(changed.key()),
                    of(changed.targetKey()),
                    changed.differences().stream()
                            .map(d -> new Difference(d.pair(), of(d.source()), of(d.target())))
                            .toList(),
                    List.of(),
                    changed.positions());
        }
        Finding.Repeated repeated = (Finding.Repeated) finding;
        return new Finding.Repeated(of(repeated.key()), repeated.inSource(), repeated.inTarget());
    }

    /** The columns with their examples hidden, and what is told of amounts. */
    public List<ColumnCauses> ofColumns(List<ColumnCauses> columns) {
        return isHiding() ? columns.stream().map(this::of).toList() : columns;
    }

    /** An amount tells of the values, so all amounts are one cause. */
    private static List<Cause> causes(ColumnCauses column) {
        Map<String, Long> rows = new LinkedHashMap<>();
        column.causes()
                .forEach(c -> rows.merge(
                        c.words()
                                .replaceFirst(
                                        "^(off by|times|capped at)( some)? [-+0-9.E]+( to [-+0-9.E]+)?$",
                                        "$1 a number"),
                        c.rows(),
                        Long::sum));
        return rows.entrySet().stream()
                .map(e -> new Cause(e.getKey(), e.getValue()))
                .toList();
    }

    private ColumnCauses of(ColumnCauses column) {
        return new ColumnCauses(
                column.table(),
                column.column(),
                column.rows(),
                column.changed(),
                causes(column),
                of(column.key()),
                ofShown(column.source()),
                ofShown(column.target()));
    }
}
