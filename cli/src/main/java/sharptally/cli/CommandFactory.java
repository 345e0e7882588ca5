package sharptally.cli;

import picocli.CommandLine;
import sharptally.cli.screen.Screen;

/** Makes commands, giving each the screen that it prints to. */
record CommandFactory(Screen screen) implements CommandLine.IFactory {
    @Override
    public <K> K create(Class<K> type) throws Exception {
        for (var constructor : type.getDeclaredConstructors()) {
            if (constructor.getParameterCount() == 1 && constructor.getParameterTypes()[0] == Screen.class) {
                return type.cast(constructor.newInstance(screen));
            }
        }
        return CommandLine.defaultFactory().create(type);
    }
}
