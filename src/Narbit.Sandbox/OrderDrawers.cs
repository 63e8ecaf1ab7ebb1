using Narbit.Sandbox.BackOffice;
using Narbit.Sandbox.Orders;

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
