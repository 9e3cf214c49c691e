from django.urls import path

from ridgeback.seasons import almanac, resting

app_name = "seasons"
urlpatterns = [
    path("almanac/", almanac.almanac, name="almanac"),
    path("animals/<int:pk>/rest/", resting.rest, name="rest"),
    path("rests/<int:pk>/stop/", resting.stop, name="stop"),
]
