package sharptally.core.rule;

import java.math.BigDecimal;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.time.format.ResolverStyle;
import java.time.temporal.TemporalAccessor;
import java.time.temporal.TemporalQueries;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import sharptally.core.rows.KeyOrder;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;

/** Reads and writes numbers and times in one certain form, and nothing else. Immutable. */
public final class WrittenForm {
    private static final long NANOS_PER_DAY = 86_400_000_000_000L;

    private final Rule.Written rule;
    private final Optional<Pattern> number;
    private final Optional<String> thousands;
    private final Optional<DateTimeFormatter> time;

    /**
     * @throws IllegalArgumentException when the form of times is none
     */
    public WrittenForm(Rule.Written rule) {
        this.rule = rule;
        this.thousands = rule.thousands();
        this.number = rule.decimal().map(decimal -> {
            String whole = thousands
                    .map(t -> "\\d+|\\d{1,3}(?:" + Pattern.quote(t) + "\\d{3})+")
                    .orElse("\\d+");
            String unit = rule.unit().map(u -> "[ \u00a0]?" + Pattern.quote(u)).orElse("");
            return Pattern.compile("(-?)(" + whole + ")(?:" + Pattern.quote(decimal) + "(\\d+))?" + unit);
        });
        // The year of an era is not wanted, which strict reading would ask for.
        this.time = rule.time()
                .map(form -> DateTimeFormatter.ofPattern(form.replace('y', 'u'), Locale.ENGLISH)
                        .withResolverStyle(ResolverStyle.STRICT));
    }

    /** A value in this form, such that it is read as the same value; empty where the form can't tell it. */
    public Optional<String> write(Value value, Kind kind) {
        return plain(value)
                .map(this::number)
                .or(() -> written(value))
                .filter(text -> read(text, kind)
                        .filter(v -> KeyOrder.ASCENDING.compare(List.of(v), List.of(value)) == 0)
                        .isPresent());
    }

    private static Optional<BigDecimal> plain(Value value) {
        if (value instanceof Value.Int whole) {
            return Optional.of(BigDecimal.valueOf(whole.value()));
        } else if (value instanceof Value.Decimal decimal) {
            return Optional.of(decimal.value());
        } else if (value instanceof Value.Double || value instanceof Value.Real) {
            try {
                return Optional.of(new BigDecimal(value.toString()));
            } catch (NumberFormatException e) {
                return Optional.empty();
            }
        }
        return Optional.empty();
    }

    private String number(BigDecimal number) {
        String plain = number.abs().toPlainString();
        int point = plain.indexOf('.');
        String whole = point < 0 ? plain : plain.substring(0, point);
        String grouped = rule.thousands()
                .map(t -> whole.replaceAll("\\B(?=(\\d{3})+$)", Matcher.quoteReplacement(t)))
                .orElse(whole);
        return (number.signum() < 0 ? "-" : "")
                + grouped
                + (point < 0 ? "" : rule.decimal().orElse(".") + plain.substring(point + 1))
                + rule.unit().map(u -> " " + u).orElse("");
    }

    private Optional<String> written(Value value) {
        Optional<TemporalAccessor> at = value instanceof Value.Date date
                ? Optional.of(date.value().atStartOfDay())
                : value instanceof Value.Timestamp timestamp
                        ? Optional.of(timestamp.value())
                        : value instanceof Value.Instant instant
                                ? Optional.of(instant.value().atOffset(ZoneOffset.UTC))
                                : value instanceof Value.Time time && time.nanos() >= 0 && time.nanos() < NANOS_PER_DAY
                                        ? Optional.of(LocalTime.ofNanoOfDay(time.nanos()))
                                        : Optional.empty();
        try {
            return at.flatMap(t -> time.map(form -> form.format(t)));
        } catch (DateTimeException e) {
            return Optional.empty();
        }
    }

    /** A text as a value of a kind; empty where it is not written so. */
    public Optional<Value> read(String text, Kind kind) {
        Optional<Value> found = number.flatMap(form -> number(form.matcher(text), kind));
        return found.isPresent() ? found : time.flatMap(form -> time(form, text, kind));
    }

    private Optional<Value> number(Matcher matcher, Kind kind) {
        if (!matcher.matches()) {
            return Optional.empty();
        }
        String whole = thousands.map(t -> matcher.group(2).replace(t, "")).orElse(matcher.group(2));
        String digits = matcher.group(3) == null ? "" : "." + matcher.group(3);
        BigDecimal exact = new BigDecimal(matcher.group(1) + whole + digits);
        return Optional.of(
                switch (kind) {
                    case DOUBLE -> new Value.Double(exact.doubleValue());
                    case FLOAT -> new Value.Real(exact.floatValue());
                    default ->
                        exact.stripTrailingZeros().scale() <= 0 && exact.precision() - exact.scale() <= 18
                                ? new Value.Int(exact.longValueExact())
                                : new Value.Decimal(exact);
                });
    }

    private static Optional<Value> time(DateTimeFormatter form, String text, Kind kind) {
        try {
            TemporalAccessor read = form.parse(text);
            Optional<LocalDate> date = Optional.ofNullable(read.query(TemporalQueries.localDate()));
            Optional<LocalTime> time = Optional.ofNullable(read.query(TemporalQueries.localTime()));
            Optional<ZoneOffset> offset = Optional.ofNullable(read.query(TemporalQueries.offset()));
            if (kind == Kind.TIME) {
                return time.map(t -> new Value.Time(t.toNanoOfDay()));
            }
            LocalTime midnight = LocalTime.MIDNIGHT;
            if (kind == Kind.DATE) {
                return date.filter(d -> time.orElse(midnight).equals(midnight)).map(Value.Date::new);
            }
            Optional<LocalDateTime> local = date.map(d -> d.atTime(time.orElse(midnight)));
            return offset.isPresent() && kind == Kind.INSTANT
                    ? local.map(l -> new Value.Instant(l.toInstant(offset.get())))
                    : local.map(Value.Timestamp::new);
        } catch (DateTimeException e) {
            return Optional.empty();
        }
    }
}
