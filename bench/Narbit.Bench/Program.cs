using System.Globalization;
using Narbit.Bench;

CultureInfo.CurrentCulture = CultureInfo.InvariantCulture;
switch (args)
{
    case ["mirror", .. var rest]:
        await MirrorBench.RunAsync(rest);
        return 0;
    case ["pairset", var count, var seed, var folder]:
        PairBench.Write(int.Parse(count, CultureInfo.InvariantCulture), int.Parse(seed, CultureInfo.InvariantCulture), folder);
        return 0;
    case ["pairrun", var program, var folder]:
        return await PairBench.RunAsync(program, folder);
    case ["pairscore", var folder]:
        return PairBench.Score(folder);
    case ["planset", var count, var folder]:
        PlanBench.Write(int.Parse(count, CultureInfo.InvariantCulture), folder);
        return 0;
    case ["planstore", var folder]:
        await PlanBench.StoreAsync(folder);
        return 0;
    case ["planrun", var folder]:
        await PlanBench.RunAsync(folder);
        return 0;
    case ["planedit", var folder]:
        await PlanBench.EditAsync(folder);
        return 0;
    case ["describe", var seed]:
        return DescribeBench.Run(int.Parse(seed, CultureInfo.InvariantCulture));
    case ["wait", var folder]:
        await WaitBench.RunAsync(folder);
        return 0;
    case ["read"]:
        return await ReadBench.RunAsync();
    case ["propagate", var server, var items, var rate, var seconds]:
        return await PropagateBench.RunAsync(
            server,
            int.Parse(items, CultureInfo.InvariantCulture),
            double.Parse(rate, CultureInfo.InvariantCulture),
            int.Parse(seconds, CultureInfo.InvariantCulture)
        );
    case ["desk", var web]:
        return await DeskBench.RunAsync(web);
    default:
        Console.Error.WriteLine(
            "usage: mirror SANDBOX SYSTEMS | pairset COUNT SEED FOLDER | pairrun NARBIT.CLI.DLL FOLDER | pairscore FOLDER | "
                + "planset COUNT FOLDER | planstore FOLDER | planrun FOLDER | planedit FOLDER | describe SEED | read | wait FOLDER | "
                + "propagate NARBIT.WEB.DLL ITEMS RATE SECONDS | desk NARBIT.WEB.DLL"
        );
        return 2;
}
