from norvik.cli import main

main()
