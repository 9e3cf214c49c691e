from django.urls import path

from ridgeback.instruments import views

app_name = "instruments"
urlpatterns = [
    path("household/instruments/", views.instruments, name="list"),
    path("household/instruments/<int:pk>/", views.instrument, name="instrument"),
    path("household/instruments/<int:pk>/delete/", views.delete, name="delete"),
]
