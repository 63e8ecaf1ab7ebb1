# The pictures in docs/screenshots, from the demo data.
dotnet build tests/Narbit.Web.Tests -c $config -v quiet
NARBIT_SHOTS=$root/docs/screenshots exec "tests/Narbit.Web.Tests/bin/$config/net10.0/Narbit.Web.Tests" -class Narbit.Web.Tests.Shots -explicit only </dev/null
