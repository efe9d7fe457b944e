from yarekeel.cli.commands import main

main()
