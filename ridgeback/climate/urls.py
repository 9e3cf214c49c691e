from django.urls import path

from ridgeback.climate import day_forecast, humidity_logs, moisture_year

app_name = "climate"
urlpatterns = [
    path("enclosures/<int:pk>/day/", day_forecast.day, name="day"),
    path("enclosures/<int:pk>/moisture-year/", moisture_year.moisture_year, name="moisture-year"),
    path("enclosures/<int:pk>/humidity-log/", humidity_logs.log, name="log"),
    path("enclosures/<int:pk>/humidity-log/use/", humidity_logs.use_log, name="use-log"),
]
