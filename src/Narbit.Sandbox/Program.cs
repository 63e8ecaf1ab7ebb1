using System.Globalization;
using Narbit.Sandbox;

CultureInfo.CurrentCulture = CultureInfo.DefaultThreadCurrentCulture = CultureInfo.InvariantCulture;

// The stand-ins as a program of their own: --port N --data DIR --items N --orders N
string? Option(string name) => Array.IndexOf(args, name) is >= 0 and var i && i + 1 < args.Length ? args[i + 1] : null;
int Number(string name, int otherwise) => Option(name) is { } text ? int.Parse(text, CultureInfo.InvariantCulture) : otherwise;

await using var sandbox = await SandboxHost.StartAsync(
    new SandboxOptions(
        Number("--port", 5181),
        Option("--data"),
        Number("--items", Narbit.Sandbox.Demo.Catalogue.DefaultItems),
        Number("--shop-rate", 20),
        Number("--orders", Narbit.Sandbox.Demo.OrderBooks.DefaultOrders)
    )
);
Console.WriteLine($"sandbox on {sandbox.Address}");
await sandbox.WaitForShutdownAsync();
