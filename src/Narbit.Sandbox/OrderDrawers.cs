using System.Text.Json;
using Narbit.Sandbox.BackOffice;
using Narbit.Sandbox.Demo;
using Narbit.Sandbox.Faults;
using Narbit.Sandbox.Orders;
using Narbit.Sandbox.Pages;
using Narbit.Sandbox.Stores;
using Narbit.Sandbox.Till;
using Narbit.Sandbox.WebShop;

namespace Narbit.Sandbox;

/// <summary>The orders of every store, and the back office's book.</summary>
public sealed record OrderDrawers(SalesBook Book, StoreOrders Shop, StoreOrders Portal, StoreOrders Market, StoreOrders Till) : IDisposable
{
    public void Dispose()
    {
        foreach (var drawer in new IDisposable[] { Book, Shop, Portal, Market, Till })
            drawer.Dispose();
    }
}
