from keen_sweep.cli import main

main()
