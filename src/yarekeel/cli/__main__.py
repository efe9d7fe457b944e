"""Where ``yare-keel`` begins."""

import gc


def main() -> None:
    """Run the command. Loading makes a million things that all stay: looking through them for rubbish again and again took a quarter of the
    start, so it waits until they are there."""
    gc.disable()
    from yarekeel.cli import commands

    gc.freeze()
    gc.enable()
    commands.main()


if __name__ == "__main__":
    main()
