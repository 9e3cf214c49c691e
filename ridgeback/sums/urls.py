from django.urls import path

from ridgeback.sums import spectrum, views

app_name = "sums"
urlpatterns = [
    path("sums/", views.sum_list, name="list"),
    path("sums/spectrum/", spectrum.spectrum, name="spectrum"),
    path("sums/<slug:slug>/", views.one_sum, name="one"),
]
