from django.urls import path

from ridgeback.climate import day_forecast, moisture_year

app_name = "climate"
urlpatterns = [
    path("enclosures/<int:pk>/day/", day_forecast.day, name="day"),
    path("enclosures/<int:pk>/moisture-year/", moisture_year.moisture_year, name="moisture-year"),
]
