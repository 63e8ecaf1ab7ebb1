using System.Globalization;
using Narbit.Web;

// --data DIR, --files DIR (systems that are reached by files have their folders in it), --sandbox URL (sets the demo workspace up),
// --web DIR (the built front end), --loopback yes (systems on this machine may be called), --urls URL,
// --host NAME[,NAME] (names to be served as, besides this machine's own);
// --describe FILE writes the OpenAPI document and ends, without touching any data.
// Messages read the same whatever the machine's language is; the front end speaks to people in their own.
CultureInfo.CurrentCulture = CultureInfo.DefaultThreadCurrentCulture = CultureInfo.InvariantCulture;

// SQLite answers on the thread that asks; a few that wait for its lock must not keep others from being served.
ThreadPool.SetMinThreads(24, 24);

if (new ConfigurationBuilder().AddCommandLine(args).Build()["describe"] is { } describe)
{
    await NarbitServer.DescribeAsync(args, describe);
    return 0;
}

var started = await NarbitServer.StartAsync(args);
if (started.Fault is { } inUse)
{
    await Console.Error.WriteLineAsync($"narbit: {inUse.Words}");
    return 3;
}

await using var server = started.Value;
await server.EndedAsync();
return 0;
