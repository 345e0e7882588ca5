package sharptally.engines.any;

import java.math.BigDecimal;
import java.util.HexFormat;
import java.util.Map;
import java.util.UUID;
import sharptally.core.place.profile.Profile;
import sharptally.core.shape.ColumnShape;
import sharptally.core.types.Kind;
import sharptally.core.types.Value;
import sharptally.engines.jdbc.Literals;

/** Literals of the SQL standard, but for those of which a profile says otherwise. */
final class StandardLiterals extends Literals {
    private final Profile profile;

    StandardLiterals(Profile profile) {
        this.profile = profile;
    }

    private String as(Kind kind, String value, String standard) {
        return profile.of(kind)
                .literal()
                .map(form -> Profile.filled(form, "value", value))
                .orElse(standard);
    }

    @Override
    protected String truth(boolean value) {
        return as(Kind.BOOLEAN, value ? "TRUE" : "FALSE", super.truth(value));
    }

    @Override
    protected String whole(long value) {
        return as(Kind.INTEGER, Long.toString(value), super.whole(value));
    }

    @Override
    protected String decimal(BigDecimal value, ColumnShape column) {
        return as(Kind.DECIMAL, value.toPlainString(), super.decimal(value, column));
    }

    @Override
    protected String real(Value.Real value) {
        String digits = Float.toString(value.value());
        return as(Kind.FLOAT, digits, exponent(digits));
    }

    @Override
    protected String floating(Value.Double value, ColumnShape column) {
        String digits = Double.toString(value.value());
        return as(Kind.DOUBLE, digits, exponent(digits));
    }

    @Override
    protected String text(String text) {
        String quoted = "'" + escaped(text) + "'";
        return as(Kind.TEXT, quoted, quoted);
    }

    private String escaped(String text) {
        Map<String, String> escapes = profile.statements().escapes().orElse(Map.of());
        StringBuilder out = new StringBuilder();
        text.codePoints().forEach(c -> {
            String letter = Character.toString(c);
            out.append(escapes.getOrDefault(letter, letter.equals("'") ? "''" : letter));
        });
        return out.toString();
    }

    @Override
    protected String bytes(byte[] value) {
        return as(Kind.BYTES, HexFormat.of().formatHex(value), super.bytes(value));
    }

    @Override
    protected String date(String text) {
        return as(Kind.DATE, text, super.date(text));
    }

    @Override
    protected String time(String text, ColumnShape column) {
        return as(Kind.TIME, text, super.time(text, column));
    }

    @Override
    protected String timestamp(String text, ColumnShape column) {
        return as(Kind.TIMESTAMP, text, super.timestamp(text, column));
    }

    @Override
    protected String instant(String text) {
        return as(Kind.INSTANT, text, "TIMESTAMP '" + text + "+00:00'");
    }

    @Override
    protected String uuid(UUID value) {
        return as(Kind.UUID, value.toString(), super.uuid(value));
    }

    @Override
    protected String other(Value.Other value, ColumnShape column) {
        return as(column.type().orElseThrow().kind(), text(value.text()), text(value.text()));
    }

    private static String exponent(String digits) {
        return digits.contains("E") ? digits : digits + "E0";
    }
}
