pkill -f "dist/cli/main.js loft" ; sleep 0.5
cp data/tide-mill/brindle.tuning.yaml data/tide-mill/nimble.tuning.yaml data/tide-mill/saltreave.level.svg out/loft/
(node dist/cli/main.js loft out/loft/saltreave.level.svg out/loft/brindle.tuning.yaml out/loft/nimble.tuning.yaml --json --port 5299 > out/loft/addr.json 2> out/loft/err.txt &) ; sleep 2
